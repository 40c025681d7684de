//! Parts that leave an even pattern, ranked by how well they explain a spacing.

use super::maths::{normal, show};
use super::out::Out;

/// A part with the spacing it leaves and how well that is known.
pub struct Source {
    /// Its name.
    pub name: &'static str,
    /// The spacing it leaves, in millimetres.
    pub expects: f64,
    /// Uncertainty of the comparison.
    pub sigma: f64,
}

/// Uncertainties within which a part fits.
const FITS: f64 = 2.0;

/// Ranks parts by how well they explain a spacing: tells all, the best, and what ties with it.
/// Returns those that fit.
pub fn rank(o: &mut Out, spacing: f64, sources: &[Source]) -> Vec<&'static str> {
    let off = |s: &Source| (spacing - s.expects).abs() / s.sigma;
    // Alike to the sixth place is alike: then the order of mention.
    let key = |s: &Source| (off(s) * 1e6).round();
    let mut order: Vec<&Source> = sources.iter().collect();
    order.sort_by(|a, b| key(a).total_cmp(&key(b)));
    let fits = order.iter().filter(|s| off(s) <= FITS).map(|s| s.name);
    let fits: Vec<&'static str> = fits.collect();
    let names: Vec<&str> = order.iter().map(|s| s.name).collect();
    let expects: Vec<f64> = order.iter().map(|s| s.expects).collect();
    o.words("ranked", &names);
    o.list("expects_mm", &expects, 0.001);
    o.word("best", fits.first().copied().unwrap_or("none"));
    o.words("ties", fits.get(1..).unwrap_or(&[]));
    fits
}

/// Asks whether a spacing that nothing explains was read in inches, and says what fits.
pub fn tell(o: &mut Out, (spacing, u): (f64, f64), sources: &[Source], fits: &[&str]) {
    let inches = |s: &Source| (spacing * 25.4 / s.expects - 1.0).abs() < 0.03;
    if fits.is_empty() && sources.iter().any(inches) {
        o.slip("this looks like inches");
    }
    let who = match fits.is_empty() {
        true => "none of the known parts fits".to_string(),
        false => fits.join(" or "),
    };
    o.result = format!("{} ± {} mm: {who}", show(spacing, 0.001), show(u, 0.001));
}

/// How likely the spacing is under a part; `otherwise` where that part is not among them.
pub fn likelihood(spacing: f64, sources: &[Source], name: &str, otherwise: f64) -> f64 {
    let found = sources.iter().find(|s| s.name == name);
    found.map_or(otherwise, |s| normal(spacing, s.expects, s.sigma))
}

//! How surely a fix cures, and how a cause shows: the book's number moved by uses and looks.

/// Uses that the book's chance of a cure is worth.
const BOOK_USES: f64 = 10.0;
/// Looks that the book's link is worth.
const BOOK_LOOKS: f64 = 30.0;
/// No state is less likely than that.
const LEAST_STATE: f64 = 0.005;
/// Cases a shop needs before its links are learned: a right book only loses by it.
pub const LINKS_FROM: usize = 100;

/// One use of a fix in a case that ended.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Use {
    /// Chance at the case's end that it was this cause, 0 to 1.
    pub weight: f64,
    /// 1 cured with proof, ½ improved, else 0.
    pub success: f64,
}

/// Chance that a fix cures a cause.
///
/// # Formula
/// (10·k + Σ w·s)/(10 + Σ w)
pub fn cures(book: f64, uses: impl IntoIterator<Item = Use>) -> f64 {
    let (worked, used) = uses.into_iter().fold((0.0, 0.0), |(worked, used), u| {
        (worked + u.weight * u.success, used + u.weight)
    });
    (BOOK_USES * book + worked) / (BOOK_USES + used)
}

/// Chances of the states of a finding under a cause: the book's, and looks that were asked for, by
/// state.
///
/// # Formula
/// (30·book + n_s)/(30 + N), none below 0.005
pub fn link(book: &[f64], seen: &[f64]) -> Vec<f64> {
    let total = BOOK_LOOKS + seen.iter().sum::<f64>();
    let moved = book.iter().zip(seen);
    let moved: Vec<f64> = moved.map(|(p, n)| (BOOK_LOOKS * p + n) / total).collect();
    let low = moved.iter().filter(|p| **p < LEAST_STATE).count() as f64;
    let rest: f64 = moved.iter().filter(|p| **p >= LEAST_STATE).sum();
    let raise = |p: f64| match p < LEAST_STATE {
        true => LEAST_STATE,
        false => p * (1.0 - LEAST_STATE * low) / rest,
    };
    moved.into_iter().map(raise).collect()
}

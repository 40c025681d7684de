//! Signs on the print as pictures: good beside faulty, in one style, built from the strokes of
//! [`pen`].

mod first_layer;
mod inside;
mod ordinary;
mod overhang;
mod pen;
mod top;
mod wall;
mod whole;

pub use pen::Pen;

/// Draws one half of a sign: `true` for the fault.
type Draw = fn(&mut Pen, bool);

/// Signs that any good print shows: the right half is no fault.
const ORDINARY: [&str; 8] = [
    "faint-texture",
    "faint-ripple",
    "soft-detail",
    "untidy-bridge-line",
    "plain-seam-line",
    "line-at-shape-change",
    "shallow-steps",
    "untidy-strands-beneath",
];

fn drawing(id: &str) -> Option<Draw> {
    first_layer::drawing(id)
        .or_else(|| wall::drawing(id))
        .or_else(|| top::drawing(id))
        .or_else(|| overhang::drawing(id))
        .or_else(|| inside::drawing(id))
        .or_else(|| whole::drawing(id))
        .or_else(|| ordinary::drawing(id))
}

/// The picture of a sign with its name for screen readers, or nothing for a finding that is not
/// seen on the print.
pub fn svg(id: &str, label: &str) -> Option<String> {
    let draw = drawing(id)?;
    let half = |faulty: bool| {
        let mut pen = Pen::default();
        draw(&mut pen, faulty);
        pen.finish()
    };
    let verdict = if ORDINARY.contains(&id) {
        r#"<path class="even" d="M131 7h9M131 11h9"/>"#
    } else {
        r#"<path class="bad" d="M132 4l8 8M140 4l-8 8"/>"#
    };
    let label = super::escape(label);
    Some(format!(
        r#"<svg class="sign" viewBox="0 0 248 90" role="img" aria-label="{label}"><g>{}</g><path
            class="good" d="M4 8l3 4 6-8"/><path class="divide" d="M124 6v78"/><g
            transform="translate(128 0)">{}</g>{verdict}</svg>"#,
        half(false),
        half(true),
    ))
}

/// The fault alone, large and without its name.
pub fn faulty(id: &str) -> Option<String> {
    let mut pen = Pen::default();
    drawing(id)?(&mut pen, true);
    Some(format!(
        r#"<svg class="sign" viewBox="0 0 120 90" role="img" aria-label="What a print shows">
            {}</svg>"#,
        pen.finish()
    ))
}

#[cfg(test)]
mod tests {
    use super::*;
    use suspect_core::knowledge::{Knowledge, Section};

    #[test]
    fn every_sign_on_the_print_has_a_picture_whose_halves_differ() {
        for finding in Knowledge::shipped()
            .findings
            .iter()
            .filter(|f| f.section == Section::Print)
        {
            let draw =
                drawing(&finding.id).unwrap_or_else(|| panic!("{} has no picture", finding.id));
            let halves = [false, true].map(|faulty| {
                let mut pen = Pen::default();
                draw(&mut pen, faulty);
                pen.finish()
            });
            assert_ne!(halves[0], halves[1], "{}", finding.id);
            assert!(svg(&finding.id, "a \"b\" <c>").unwrap().contains("&#60;c"));
        }
    }
}

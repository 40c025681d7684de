//! The nearest known word for a misspelt one.

/// Longest word a neighbour is sought for, in bytes: no identifier is half as long, and the search
/// grows with the square of the length.
const LONGEST: usize = 60;

/// The candidate most alike to `given` (Jaro-Winkler similarity of at least 0.75), if there is one.
/// Beyond 60 bytes nothing is alike.
pub fn nearest<'a>(given: &str, candidates: impl IntoIterator<Item = &'a str>) -> Option<&'a str> {
    if given.len() > LONGEST {
        return None;
    }
    candidates
        .into_iter()
        .map(|c| (strsim::jaro_winkler(given, c), c))
        .filter(|(alike, _)| *alike >= 0.75)
        .max_by(|a, b| a.0.total_cmp(&b.0))
        .map(|(_, c)| c)
}

/// ", did you mean `x`?" or nothing: the tail of a message about an unknown identifier.
pub fn hint<'a>(given: &str, candidates: impl IntoIterator<Item = &'a str>) -> String {
    nearest(given, candidates)
        .map(did_you_mean)
        .unwrap_or_default()
}

/// "; did you mean `x`?", to follow a message.
pub fn did_you_mean(near: &str) -> String {
    format!("; did you mean `{near}`?")
}

/// The given text cut to 40 characters for use in a message, so that a huge value stays readable.
pub fn short(given: &str) -> String {
    let mut cut: String = given.chars().take(40).collect();
    if cut.len() < given.len() {
        cut.push('…');
    }
    cut
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_misspelt_identifier_finds_its_neighbour_and_nonsense_finds_none() {
        assert_eq!(
            nearest("puley-slips", ["belt-loose", "pulley-slips"]),
            Some("pulley-slips")
        );
        assert_eq!(nearest("zzzz", ["belt-loose", "pulley-slips"]), None);
        let long = "pulley-slips".repeat(6);
        assert_eq!(
            nearest(&long, [long.as_str()]),
            None,
            "beyond 60 bytes nothing is sought"
        );
        assert_eq!(short(&"é".repeat(50)).chars().count(), 41);
    }
}

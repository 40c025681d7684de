//! What a workshop names in its own words: causes and fixes that the knowledge does not list.
//!
//! Wherever a cause or fix stands by its identifier, one of the workshop's own stands as
//! `own/bent spool rod`: a slash is in no identifier of the knowledge.

use crate::text;

/// What marks a name of the workshop's own.
const OWN: &str = "own/";

/// Longest name of the workshop's own, in characters.
pub const LONGEST_OWN: usize = text::LONGEST_TITLE;

/// A name as it is kept where identifiers stand.
pub fn own_id(name: &str) -> String {
    format!("{OWN}{}", text::trimmed(name))
}

/// The name behind such an identifier; nothing when it is none.
pub fn own_name(id: &str) -> Option<&str> {
    id.strip_prefix(OWN).filter(|name| !name.trim().is_empty())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_name_of_ones_own_is_never_taken_for_an_identifier() {
        assert_eq!(
            own_name(&own_id(" bent spool rod ")),
            Some("bent spool rod")
        );
        assert_eq!(own_name("pulley-slips"), None);
        assert_eq!(own_name("own/"), None);
        let k = crate::knowledge::Knowledge::shipped();
        assert!(k.causes.iter().all(|c| own_name(&c.id).is_none()));
        assert!(k.fixes.iter().all(|f| own_name(&f.id).is_none()));
    }
}

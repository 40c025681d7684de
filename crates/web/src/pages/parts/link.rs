//! Links and choices.

/// A named link.
pub struct Link {
    pub href: String,
    pub name: String,
}

/// An option of a select, or a button of several.
pub struct Choice {
    pub value: String,
    pub label: String,
    pub chosen: bool,
}

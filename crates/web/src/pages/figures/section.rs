//! A section of the figures: tiles, a drawing with its table, and how it was reckoned.

use crate::show;
use suspect_core::learning::Share;
use suspect_core::statistics::Told;

/// A figure by itself.
pub struct Tile {
    pub name: String,
    /// "62 %", or nothing while there are too few cases.
    pub value: Option<String>,
    /// Its interval, or how many cases are wanting.
    pub below: String,
    /// The cases behind it.
    pub href: Option<String>,
}

/// A cell of a table.
pub struct Cell {
    pub text: String,
    pub href: Option<String>,
}

/// What a drawing shows, to be read.
pub struct Table {
    pub head: Vec<&'static str>,
    pub rows: Vec<Vec<Cell>>,
}

/// How a figure is reckoned.
pub struct How {
    pub words: &'static str,
    pub formula: &'static str,
}

/// A section of the page.
#[derive(Default)]
pub struct Section {
    pub id: &'static str,
    pub title: &'static str,
    /// What there is to say in words; what wants attention stands out.
    pub says: Vec<String>,
    pub alarms: Vec<String>,
    pub tiles: Vec<Tile>,
    pub drawing: Option<String>,
    /// Looks of the drawing's parts, with their names.
    pub legend: Vec<(String, String)>,
    pub table: Option<Table>,
    /// The table is short and stands open.
    pub open: bool,
    pub how: Vec<How>,
}

/// A cell without a link.
pub fn plain(text: impl Into<String>) -> Cell {
    Cell {
        text: text.into(),
        href: None,
    }
}

/// A cell that leads somewhere.
pub fn linked(text: impl Into<String>, href: String) -> Cell {
    Cell {
        text: text.into(),
        href: Some(href),
    }
}

/// A tile of a figure that may not be known yet.
pub fn tile<T>(
    name: &str,
    told: &Told<T>,
    href: Option<String>,
    words: impl FnOnce(&T) -> (String, String),
) -> Tile {
    let (value, below) = match told {
        Told::Known(figure) => {
            let (value, below) = words(figure);
            (Some(value), below)
        }
        Told::TooFew { n, least } => (None, too_few(*n, *least)),
    };
    Tile {
        name: name.into(),
        value,
        below,
        href,
    }
}

/// "too few yet: 3 of 5 cases".
pub fn too_few(n: i64, least: i64) -> String {
    match n < least {
        true => format!("too few yet: {n} of {least} cases"),
        false => "cannot be told from these cases".into(),
    }
}

/// A share and its interval: "62 %", "48–74 % with nine in ten".
pub fn share(share: &Share) -> (String, String) {
    (
        show::percent(share.share),
        format!("{} with nine in ten", between(share.low, share.high)),
    )
}

/// "48–74 %".
pub fn between(low: f64, high: f64) -> String {
    format!(
        "{}–{}",
        show::percent(low).trim_end_matches(['%', ' ', '\u{a0}', '\u{202f}']),
        show::percent(high)
    )
}

//! What the bench shows of a measure beside its numbers: what it takes, how it is found, how it is
//! reckoned, an example.

/// What one holds in the hand.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Hold {
    /// Calipers.
    Calipers,
    /// A ruler.
    Ruler,
    /// A thermometer.
    Thermometer,
    /// A power meter.
    Meter,
    /// Scales.
    Scales,
    /// Nothing: one listens.
    Ear,
    /// Nothing: one looks, at marks or at what the machine shows.
    Eye,
    /// A file, its settings, a photo or a trace.
    File,
    /// A pencil: nothing is measured, something is reckoned.
    Pencil,
}

impl Hold {
    /// All, in the order of the bench.
    pub const ALL: [Hold; 9] = [
        Hold::Calipers,
        Hold::Ruler,
        Hold::Thermometer,
        Hold::Meter,
        Hold::Scales,
        Hold::Ear,
        Hold::Eye,
        Hold::File,
        Hold::Pencil,
    ];

    /// Identifier.
    pub fn id(self) -> &'static str {
        match self {
            Hold::Calipers => "calipers",
            Hold::Ruler => "ruler",
            Hold::Thermometer => "thermometer",
            Hold::Meter => "meter",
            Hold::Scales => "scales",
            Hold::Ear => "ear",
            Hold::Eye => "eye",
            Hold::File => "file",
            Hold::Pencil => "pencil",
        }
    }
}

/// What the bench shows of a measure beside its numbers.
#[derive(Debug)]
pub struct Card {
    /// What one holds in the hand.
    pub hold: Hold,
    /// More words somebody may look for it by.
    pub words: &'static str,
    /// How it is reckoned. `{name}` is an output or input, `{name#2}` the second of several
    /// readings, `{name}` of several their mean; `a | b`: the first of which all is known;
    /// `[input=word]` before one: only with that choice.
    pub formulas: &'static [&'static str],
    /// Numbers as a person types them, by input; none where they come from a file.
    pub example: &'static [(&'static str, &'static str)],
    /// What the first uncertain result stands against: an output, an input or a number; empty
    /// where nothing is expected of it.
    pub against: &'static str,
}

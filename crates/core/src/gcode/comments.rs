//! What comments say: where a layer begins, what a line is for, which settings made the file.
//!
//! There is no standard for it. The words are told apart by what they mean, whoever wrote them.

use super::line_type::LineType;
use super::number;

/// What a comment says.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) enum Mark<'a> {
    /// Nothing that is read.
    Nothing,
    /// A layer begins; the way it was said, of which a file follows one.
    Layer(LayerWord),
    /// The height of the nozzle in this layer, mm.
    Z(f64),
    /// The height of this layer, mm.
    Height(f64),
    /// The width of the lines that follow, mm.
    Width(f64),
    /// What the lines that follow are for.
    Type(LineType),
    /// A setting by its name: `name = value`.
    Setting(&'a [u8], &'a [u8]),
    /// The same, written `name: value`, as heads of files do.
    Head(&'a [u8], &'a [u8]),
}

/// Ways to say that a layer begins.
#[derive(Debug, Clone, Copy, PartialEq, Eq, serde::Serialize, serde::Deserialize)]
pub(crate) enum LayerWord {
    /// "Layer change".
    Change,
    /// "Layer" and its number.
    Number,
}

/// Reads a comment without its sign.
pub(crate) fn read(comment: &[u8]) -> Mark<'_> {
    let text = comment.trim_ascii();
    let Some(&first) = text.first() else {
        return Mark::Nothing;
    };
    // Nearly every comment between two moves begins with one of these.
    match first | 32 {
        b'l' | b'c' | b'z' | b'h' | b'w' | b't' | b'f' => short(text).unwrap_or_else(|| pair(text)),
        _ => pair(text),
    }
}

fn short(text: &[u8]) -> Option<Mark<'_>> {
    if is(text, b"LAYER_CHANGE") || is(text, b"CHANGE_LAYER") || is(text, b"LAYER CHANGE") {
        return Some(Mark::Layer(LayerWord::Change));
    }
    if let Some(rest) = after(text, b"TYPE:").or_else(|| after(text, b"FEATURE")) {
        return Some(Mark::Type(LineType::named(colon(rest))));
    }
    for (word, make) in NUMBERS {
        if let Some(rest) = after(text, word) {
            return number_alone(colon(rest)).map(make);
        }
    }
    let rest = after(text, b"LAYER")?;
    let rest = colon(rest)
        .strip_prefix(b"#")
        .unwrap_or(colon(rest))
        .trim_ascii_start();
    let (_, taken) = number::read(rest)?;
    let end = rest
        .get(taken)
        .is_none_or(|b| matches!(b, b',' | b' ' | b'/' | b':'));
    (end && !rest[..taken].contains(&b'.')).then_some(Mark::Layer(LayerWord::Number))
}

/// Words with one number behind them.
type MakeMark = fn(f64) -> Mark<'static>;
const NUMBERS: [(&[u8], MakeMark); 6] = [
    (b"Z:", |mm| Mark::Z(mm)),
    (b"Z_HEIGHT:", |mm| Mark::Z(mm)),
    (b"HEIGHT:", |mm| Mark::Height(mm)),
    (b"LAYER_HEIGHT:", |mm| Mark::Height(mm)),
    (b"WIDTH:", |mm| Mark::Width(mm)),
    (b"LINE_WIDTH:", |mm| Mark::Width(mm)),
];

fn pair(text: &[u8]) -> Mark<'_> {
    let equals = text.iter().position(|b| *b == b'=');
    let colon = text.iter().position(|b| *b == b':');
    let (at, setting) = match (equals, colon) {
        (Some(at), None) => (at, true),
        (Some(at), Some(other)) if at < other => (at, true),
        (_, Some(at)) => (at, false),
        (None, None) => return Mark::Nothing,
    };
    let (name, value) = (text[..at].trim_ascii(), text[at + 1..].trim_ascii());
    if !named(name) || value.is_empty() {
        Mark::Nothing
    } else if setting {
        Mark::Setting(name, value)
    } else {
        Mark::Head(name, value)
    }
}

/// Whether this reads like a setting's name and not like a sentence.
fn named(name: &[u8]) -> bool {
    let fits = |b: &u8| {
        b.is_ascii_alphanumeric()
            || matches!(b, b' ' | b'_' | b'-' | b'.' | b'[' | b']')
            || matches!(b, b'(' | b')' | b'/' | b'%')
    };
    (2..=64).contains(&name.len()) && name[0].is_ascii_alphabetic() && name.iter().all(fits)
}

fn is(text: &[u8], word: &[u8]) -> bool {
    text.eq_ignore_ascii_case(word)
}

fn after<'a>(text: &'a [u8], word: &[u8]) -> Option<&'a [u8]> {
    (text.len() > word.len() && is(&text[..word.len()], word)).then(|| &text[word.len()..])
}

/// What follows, without a colon and blanks before it.
fn colon(text: &[u8]) -> &[u8] {
    let text = text.trim_ascii();
    text.strip_prefix(b":").unwrap_or(text).trim_ascii()
}

fn number_alone(text: &[u8]) -> Option<f64> {
    let (value, taken) = number::read(text)?;
    let rest = text[taken..].trim_ascii();
    (rest.is_empty() || rest == b"mm")
        .then_some(value)
        .filter(|value| value.is_finite())
}

#[cfg(test)]
mod tests {
    use super::*;

    fn of(text: &str) -> Mark<'_> {
        read(text.as_bytes())
    }

    #[test]
    fn layers_are_marked_in_several_ways_and_counts_of_layers_are_none() {
        for text in [
            "LAYER:0",
            "LAYER:-2",
            " layer 12, Z = 2.4",
            "LAYER #3",
            "layer 3/120",
        ] {
            assert_eq!(of(text), Mark::Layer(LayerWord::Number), "{text}");
        }
        for text in ["LAYER_CHANGE", " CHANGE_LAYER", "layer change"] {
            assert_eq!(of(text), Mark::Layer(LayerWord::Change), "{text}");
        }
        for text in [
            "LAYER_COUNT:120",
            "BEFORE_LAYER_CHANGE",
            "AFTER_LAYER_CHANGE",
            "layering",
        ] {
            assert!(!matches!(of(text), Mark::Layer(_)), "{text}");
        }
    }

    #[test]
    fn heights_widths_and_types_are_read() {
        assert_eq!(of("Z:0.2"), Mark::Z(0.2));
        assert_eq!(of(" LAYER_HEIGHT: 0.16"), Mark::Height(0.16));
        assert_eq!(of("WIDTH:0.449999"), Mark::Width(0.449_999));
        assert_eq!(of("TYPE:outer wall"), Mark::Type(LineType::OuterLoop));
        assert_eq!(of(" feature solid layer"), Mark::Type(LineType::Skin));
    }

    #[test]
    fn settings_are_told_from_prose() {
        assert_eq!(
            of(" layer_height = 0.2"),
            Mark::Setting(b"layer_height", b"0.2")
        );
        assert_eq!(of("TIME:1234"), Mark::Head(b"TIME", b"1234"));
        assert_eq!(of("move to the (new) place"), Mark::Nothing);
        assert_eq!(
            of("filament used [mm] = 12.5"),
            Mark::Setting(b"filament used [mm]", b"12.5")
        );
    }
}

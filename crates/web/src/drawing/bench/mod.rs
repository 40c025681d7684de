//! Where to measure: a drawing for each measure, with the numbers in it as they are typed.
//!
//! Every place that is read carries a letter; the same letter stands beside its field.

mod calipers;
mod ear;
mod eye;
mod file;
mod heat;
mod pencil;
mod ruler;
mod sheet;

pub use sheet::Sheet;

/// Draws into a sheet.
type Draw = fn(&mut Sheet);

/// A drawing with the inputs that stand in it, in the order of their letters.
pub struct Drawn {
    /// The drawing.
    pub svg: String,
    /// Inputs by identifier; the first has the letter A.
    pub lettered: Vec<&'static str>,
}

impl Drawn {
    /// The letter of an input that stands in the drawing.
    pub fn letter(&self, input: &str) -> Option<char> {
        let at = self.lettered.iter().position(|id| *id == input)?;
        Some(letter(at))
    }
}

fn letter(at: usize) -> char {
    char::from(b'A' + (at % 26) as u8)
}

/// Where to measure, with the numbers `typed` knows, each with its unit.
pub fn where_to_measure(
    measure: &str,
    title: &str,
    typed: &dyn Fn(&'static str) -> Option<String>,
) -> Drawn {
    let mut sheet = Sheet::with(typed);
    drawing(measure)(&mut sheet);
    sheet.finish(title)
}

/// The same without letters and numbers, for lists.
pub fn picture(measure: &str) -> String {
    let mut sheet = Sheet::bare();
    drawing(measure)(&mut sheet);
    sheet.finish("").svg
}

fn drawing(measure: &str) -> Draw {
    let of = [
        calipers::drawing,
        ruler::drawing,
        heat::drawing,
        ear::drawing,
        eye::drawing,
        file::drawing,
        pencil::drawing,
    ];
    let found = of.iter().find_map(|of| of(measure));
    found.unwrap_or(pencil::slip)
}

#[cfg(test)]
mod tests {
    use super::*;
    use suspect_core::measures::measures;

    #[test]
    fn every_measure_has_a_drawing_of_its_own_with_a_number_in_it() {
        let mut seen = Vec::new();
        for measure in measures() {
            let drawn = where_to_measure(measure.id, measure.plain, &|_| None);
            for id in &drawn.lettered {
                assert!(measure.input(id).is_some(), "{}: {id}", measure.id);
            }
            assert!(!drawn.lettered.is_empty(), "{}", measure.id);
            let own = picture(measure.id);
            assert!(!seen.contains(&own), "{} looks like another", measure.id);
            seen.push(own);
        }
    }

    #[test]
    fn what_is_typed_stands_in_the_drawing_and_cannot_break_it() {
        let typed = |id: &str| (id == "wall_mm").then(|| "0.48 <b>mm".to_string());
        let drawn = where_to_measure("wall-thickness", "x", &typed);
        assert!(drawn.svg.contains("0.48 &#60;b&#62;mm"), "{}", drawn.svg);
        assert_eq!(drawn.letter("wall_mm"), Some('A'));
        assert!(!picture("wall-thickness").contains("text"));
    }
}

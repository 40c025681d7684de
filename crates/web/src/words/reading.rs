//! What a measure found, line by line: each number with its uncertainty and its unit.

use crate::show;
use suspect_core::measures::{Out, Output, Reading, stem_and_unit};

/// "Flow full 0.905 ± 0.019": every output of a measure, its uncertainty beside it.
pub fn lines(out: &Out) -> Vec<String> {
    let own = out.outputs.iter().filter(|(name, _)| !name.ends_with("_u"));
    own.map(|(name, value)| row(out, name, value)).collect()
}

fn row(out: &Out, name: &str, value: &Output) -> String {
    let (stem, unit) = split(name);
    let about = format!("{stem}_u");
    let uncertain = out.outputs.iter().find(|(n, _)| *n == about);
    let off = match uncertain {
        Some((_, Output::Number(u))) => format!(" ± {}", show::exact(*u)),
        _ => String::new(),
    };
    let said = match value {
        Output::Number(v) => signed(*v),
        Output::Word(word) => word.replace('-', " "),
        Output::Numbers(all) => {
            let all: Vec<String> = all.iter().map(|v| signed(*v)).collect();
            all.join(", ")
        }
        Output::Words(all) => all.join(", ").replace('-', " "),
    };
    format!("{}: {said}{off}{unit}", name_of(name))
}

/// A name without its unit, and the unit as it is shown behind a number.
fn split(name: &str) -> (&str, &'static str) {
    if name == "px_per_mm" {
        return ("scale", " px/mm");
    }
    let (stem, unit) = stem_and_unit(name);
    let shown = match unit {
        "mm_s2" => " mm/s²",
        "mm3_s" => " mm³/s",
        "mm_s" => " mm/s",
        "mm3" => " mm³",
        "percent" => " %",
        "mm" => " mm",
        "deg" => "°",
        "min" => " min",
        "hz" => " Hz",
        "c" => " °C",
        "w" => " W",
        "n" => " N",
        "g" => " g",
        "h" => " h",
        "s" => " s",
        _ => "",
    };
    (stem, shown)
}

/// "Flow full": what an output is called.
pub fn name_of(output: &str) -> String {
    show::capital(&split(output).0.replace('_', " "))
}

/// The unit of an output, with a blank before it where one belongs.
pub fn unit_of(output: &str) -> &'static str {
    split(output).1
}

/// A reading of a log in words: "Flow from walls: 0.475 ± 0.021 mm against 0.45 mm …".
pub fn line(reading: &Reading) -> String {
    match reading.reckon() {
        Ok((of, out)) => format!("{}: {}", show::capital(of.plain), out.result),
        Err(_) => format!("{}, as an earlier program read it", reading.measure),
    }
}

/// A number with a minus as long as a plus.
pub fn signed(value: f64) -> String {
    show::exact(value).replace('-', "\u{2212}")
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_number_stands_with_its_uncertainty_and_its_unit() {
        let outputs = vec![
            ("mean_mm".into(), Output::Number(0.975)),
            ("mean_u".into(), Output::Number(0.021)),
            ("flow_new".into(), Output::Number(0.905)),
            ("change_percent".into(), Output::Number(-7.7)),
            ("says".into(), Output::Word("go-on".into())),
            ("ties".into(), Output::Words(Vec::new())),
        ];
        let out = Out {
            outputs,
            ..Out::default()
        };
        let said = lines(&out);
        assert_eq!(said[0], "Mean: 0.975 ± 0.021 mm");
        assert_eq!(said[1], "Flow new: 0.905");
        assert_eq!(said[2], "Change: \u{2212}7.7 %");
        assert_eq!(said[3], "Says: go on");
    }
}

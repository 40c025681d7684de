//! The formulas the bench shows: with the numbers put in, each must come out as the measure
//! reckoned.

use serde_json::Value;
use std::f64::consts::PI;
use suspect_core::measures::{
    Bench, Formula, Inputs, Measure, Piece, Raw, by_name, formulas, measure, measures,
};

const CASES: &str = include_str!("measures-cases.json");

/// Reads sums, products, powers, roots and the few functions of the formulas.
struct Sum<'a>(std::iter::Peekable<std::str::Chars<'a>>);

impl Sum<'_> {
    fn of(text: &str) -> f64 {
        let text: String = text.chars().filter(|c| !c.is_whitespace()).collect();
        let mut sum = Sum(text.chars().peekable());
        let value = sum.terms();
        assert_eq!(sum.0.next(), None, "left over in {text}");
        value
    }

    fn terms(&mut self) -> f64 {
        let mut value = self.factors();
        while let Some(sign) = self.0.next_if(|c| matches!(c, '+' | '−')) {
            let next = self.factors();
            value += if sign == '+' { next } else { -next };
        }
        value
    }

    fn factors(&mut self) -> f64 {
        let mut value = self.power();
        while let Some(sign) = self.0.next_if(|c| matches!(c, '·' | '/')) {
            let next = self.power();
            value = if sign == '·' {
                value * next
            } else {
                value / next
            };
        }
        value
    }

    fn power(&mut self) -> f64 {
        let value = self.atom();
        match self.0.next_if(|c| matches!(c, '²' | '³')) {
            Some('²') => value.powi(2),
            Some(_) => value.powi(3),
            None => value,
        }
    }

    fn within(&mut self, close: char) -> Vec<f64> {
        let mut all = vec![self.terms()];
        while self.0.next_if_eq(&',').is_some() {
            all.push(self.terms());
        }
        assert_eq!(self.0.next(), Some(close));
        all
    }

    fn atom(&mut self) -> f64 {
        match self.0.peek().copied() {
            Some('(') => {
                self.0.next();
                self.within(')')[0]
            }
            Some('⌈') => {
                self.0.next();
                (self.within('⌉')[0] - 1e-9).ceil()
            }
            Some('⌊') => {
                self.0.next();
                (self.within('⌋')[0] + 1e-9).floor()
            }
            Some('√') => {
                self.0.next();
                self.atom().sqrt()
            }
            Some('π') => {
                self.0.next();
                PI
            }
            Some('-') => {
                self.0.next();
                -self.atom()
            }
            Some(c) if c.is_ascii_digit() => self.number(),
            _ => self.function(),
        }
    }

    fn number(&mut self) -> f64 {
        let mut text = String::new();
        while let Some(c) = self
            .0
            .next_if(|c| c.is_ascii_digit() || *c == '.' || *c == 'e')
        {
            text.push(c);
            if c == 'e' {
                text.extend(self.0.next_if_eq(&'-'));
            }
        }
        text.parse().unwrap()
    }

    fn function(&mut self) -> f64 {
        let mut name = String::new();
        while let Some(c) = self.0.next_if(char::is_ascii_alphanumeric) {
            name.push(c);
        }
        assert_eq!(self.0.next(), Some('('), "no function: {name}");
        let of = self.within(')');
        match name.as_str() {
            "ln" => of[0].ln(),
            "log2" => of[0].log2(),
            "asin" => of[0].asin().to_degrees(),
            "max" => of[0].max(of[1]),
            other => panic!("{other} is not known"),
        }
    }
}

/// A formula with its numbers, as text; nothing for words.
fn with_numbers(formula: &Formula) -> Option<String> {
    let values = formula.iter().any(|p| matches!(p, Piece::Value { .. }));
    let text = |p: &Piece| match p {
        Piece::Text(t) => (*t).to_string(),
        Piece::Value { value, .. } => value.unwrap().to_string(),
    };
    values.then(|| formula.iter().map(text).collect())
}

/// How many formulas of a measure came out, each as it was reckoned.
fn come_out(of: &Measure, raw: &Inputs) -> usize {
    let Bench::Says(given, out) = of.bench(raw, true) else {
        return 0;
    };
    // A number a hundred times too small leaves no digits after rounding.
    if out.slipped {
        return 0;
    }
    let mut many = 0;
    for text in formulas(of, &given, &out).iter().filter_map(with_numbers) {
        let (left, right) = text.split_once('=').unwrap();
        let (want, got) = (Sum::of(left), Sum::of(right));
        let decimals = left.trim().split_once('.').map_or(0, |(_, d)| d.len());
        let step = 10f64.powi(-(decimals as i32));
        let near = 0.02 * want.abs() + 1.01 * step;
        assert!((want - got).abs() <= near, "{}: {text}: {got}", of.id);
        many += 1;
    }
    many
}

#[test]
fn with_the_numbers_put_in_a_formula_comes_out_as_was_reckoned() {
    let mut many = 0;
    let raw = |v: &Value| match v {
        Value::Number(n) => Raw::Number(n.as_f64().unwrap()),
        Value::Array(all) => {
            let all = all.iter().map(|v| v.as_f64().map(Raw::Number));
            Raw::List(all.collect::<Option<_>>().unwrap_or_default())
        }
        text => Raw::Text(text.as_str().unwrap_or_default().into()),
    };
    for case in serde_json::from_str::<Vec<Value>>(CASES).unwrap() {
        let of = measure(case["measure"].as_str().unwrap()).unwrap();
        let inputs = case["inputs"].as_object().unwrap();
        let inputs = inputs.iter().map(|(id, v)| (id.clone(), raw(v))).collect();
        many += come_out(of, &inputs);
    }
    assert!(many > 150, "only {many} formulas were tried");
}

#[test]
fn every_example_follows_without_a_slip_and_shows_its_formulas() {
    for of in measures() {
        assert!(!of.card.formulas.is_empty(), "{}", of.id);
        if of.card.example.is_empty() {
            continue;
        }
        let Bench::Says(given, out) = of.bench(&of.example(), false) else {
            panic!("{}: the example does not come out", of.id);
        };
        assert!(!out.slipped, "{}: {:?}", of.id, out.warnings);
        assert!(!formulas(of, &given, &out).is_empty(), "{}", of.id);
        come_out(of, &of.example());
    }
}

#[test]
fn a_formula_names_only_what_the_measure_knows() {
    for of in measures() {
        let Bench::Says(_, out) = of.bench(&of.example(), false) else {
            continue;
        };
        for piece in by_name(of).into_iter().flatten() {
            let Piece::Value { name, .. } = piece else {
                continue;
            };
            let input = of.input(name).is_some();
            let output = out.outputs.iter().any(|(n, _)| n == name);
            let optional = [
                "flow_new",
                "steps_new",
                "gap_left_mm",
                "coast_new_mm3",
                "drop_c",
            ];
            let known = input || output || optional.contains(&name) || name.ends_with("_mm");
            assert!(known, "{}: {name}", of.id);
        }
    }
}

#[test]
fn what_is_missing_or_makes_no_sense_is_told_by_input() {
    let of = measure("wall-thickness").unwrap();
    let of_typed = |text: &str| {
        let raw = Inputs::from([("wall_mm".to_string(), Raw::Text(text.into()))]);
        of.bench(&raw, false)
    };
    let Bench::Missing(all) = of.bench(&Inputs::new(), false) else {
        panic!("nothing follows from nothing");
    };
    assert_eq!(all.iter().map(|i| i.id).collect::<Vec<_>>(), ["wall_mm"]);
    for wrong in ["thick", "NaN", "1e400", "-0.4", &"0.4 ".repeat(21)] {
        let Bench::Wrong(by_input, None) = of_typed(wrong) else {
            panic!("{wrong} makes no sense");
        };
        assert!(by_input["wall_mm"].to_string().contains("wall_mm"));
    }
    let Bench::Says(_, out) = of_typed("0.45 0.46 0.45 1.2") else {
        panic!("a reading far from its fellows is kept");
    };
    assert_eq!(out.outputs[0].0, "mean_mm");
}

//! Measures: the list by what one holds in the hand, and how one is reckoned, with an example.

use crate::drawing::bench::{picture, where_to_measure};
use crate::page_error::PageError;
use crate::pages::Page;
use crate::pages::handbook::parts::finding_link;
use crate::pages::parts::link::Link;
use crate::words::{formula, measure as words};
use crate::{show, urls};
use askama::Template;
use axum::extract::{Path, State};
use axum::response::Html;
use std::sync::Arc;
use suspect_core::knowledge::Knowledge;
use suspect_core::measures::{Bench, Hold, Input, Kind, Measure, by_name, formulas};
use suspect_core::measures::{measure, measures};

struct Row {
    href: String,
    name: String,
    picture: String,
    not: String,
}

struct Group {
    title: &'static str,
    rows: Vec<Row>,
}

#[derive(Template)]
#[template(path = "handbook/measures.html")]
struct MeasuresPage {
    chapter: &'static str,
    total: usize,
    groups: Vec<Group>,
}

/// `GET /handbook/measures`
pub async fn list() -> Page {
    let row = |m: &Measure| Row {
        href: urls::handbook_measure(m.id),
        name: show::capital(m.plain),
        picture: picture(m.id),
        not: m.not.to_string(),
    };
    let groups = Hold::ALL.map(|hold| Group {
        title: words::hold(hold).0,
        rows: measures()
            .filter(|m| m.card.hold == hold)
            .map(row)
            .collect(),
    });
    let page = MeasuresPage {
        chapter: "measures",
        total: measures().count(),
        groups: groups.into(),
    };
    Ok(Html(page.render()?))
}

struct Asked {
    label: String,
    range: String,
    usual: String,
}

/// The example: what was put in, what came out.
struct Example {
    href: String,
    drawing: String,
    formulas: Vec<String>,
    result: String,
}

#[derive(Template)]
#[template(path = "handbook/measure.html")]
struct MeasurePage {
    chapter: &'static str,
    all: &'static str,
    title: String,
    bench: String,
    hold: &'static str,
    /// Shown where there is no example.
    drawing: String,
    formulas: Vec<String>,
    example: Option<Example>,
    asked: Vec<Asked>,
    safety: String,
    not: String,
    speaks: Vec<Link>,
}

/// `GET /handbook/measures/{measure}`
pub async fn show(State(knowledge): State<Arc<Knowledge>>, Path(id): Path<String>) -> Page {
    let of = measure(&id).map_err(|_| PageError::NotFound("measure"))?;
    let (speaks, example) = match of.bench(&of.example(), false) {
        Bench::Says(given, out) => {
            let said = out.findings.iter();
            let said = said.filter_map(|(f, _)| knowledge.finding_id(f));
            let worked = formulas(of, &given, &out);
            let worked = worked.iter().filter_map(|f| formula::in_numbers(of, f));
            let example = Example {
                href: urls::with(&urls::measure(of.id), &words::example(of)),
                drawing: drawing(of),
                formulas: worked.collect(),
                result: show::capital(&out.result),
            };
            let speaks = said.map(|f| finding_link(&knowledge, f)).collect();
            (speaks, Some(example))
        }
        _ => (Vec::new(), None),
    };
    let asked = of.inputs.iter().filter(|i| i.kind != Kind::Text);
    let page = MeasurePage {
        chapter: "measures",
        all: urls::MEASURES,
        title: show::capital(of.plain),
        bench: urls::measure(of.id),
        hold: words::hold(of.card.hold).0,
        drawing: if example.is_some() {
            String::new()
        } else {
            drawing(of)
        },
        formulas: by_name(of)
            .iter()
            .map(|f| formula::in_words(of, f))
            .collect(),
        example,
        asked: asked.map(asked_for).collect(),
        safety: show::sentence(of.safety),
        not: show::sentence(of.not),
        speaks,
    };
    Ok(Html(page.render()?))
}

/// Where to measure, with the numbers of the example.
fn drawing(of: &Measure) -> String {
    let typed = |id: &'static str| {
        let (_, text) = of.card.example.iter().find(|(i, _)| *i == id)?;
        words::in_drawing(of.input(id)?, text)
    };
    where_to_measure(of.id, of.plain, &typed).svg
}

fn asked_for(input: &Input) -> Asked {
    let unit = input.unit.shown();
    let (low, high) = input.range;
    let number = |v: f64| show::exact(v).replace('-', "\u{2212}");
    let range = match input.kind {
        Kind::Choice(of) => of.join(", ").replace('-', " "),
        Kind::Readings(asked, ..) => {
            format!(
                "{asked} readings, {} to {} {unit}",
                number(low),
                number(high)
            )
        }
        _ => format!("{} to {} {unit}", number(low), number(high)),
    };
    Asked {
        label: show::capital(input.plain),
        range: range.trim_end().to_string(),
        usual: match (input.needed, input.usual) {
            (true, _) => "needed".into(),
            (_, Some(usual)) => format!("{} {unit}", show::exact(usual)).trim_end().into(),
            _ => String::new(),
        },
    }
}

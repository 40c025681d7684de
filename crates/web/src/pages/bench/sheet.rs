//! A measuring sheet for the bench without a screen: the drawing, empty boxes, what is usual.

use crate::drawing::bench::where_to_measure;
use crate::pages::Page;
use crate::pages::bench::measure::named;
use crate::words::formula;
use crate::{show, urls};
use askama::Template;
use axum::extract::Path;
use axum::response::Html;
use suspect_core::measures::{Input, Kind, by_name};

struct Row {
    letter: Option<char>,
    label: String,
    unit: &'static str,
    /// Boxes to write into.
    boxes: usize,
    /// "usual 0.45 mm", "lined, all metal".
    usual: String,
    needed: bool,
}

#[derive(Template)]
#[template(path = "bench/sheet.html")]
struct SheetPage {
    title: String,
    back: String,
    drawing: String,
    rows: Vec<Row>,
    formulas: Vec<String>,
    safety: String,
    not: String,
}

/// Boxes that fit on a line of the paper.
const MOST_BOXES: usize = 10;

/// `GET /bench/{measure}/sheet`
pub async fn show(Path(id): Path<String>) -> Page {
    let measure = named(&id)?;
    let drawn = where_to_measure(measure.id, measure.plain, &|_| None);
    let asked = measure.inputs.iter().filter(|i| i.kind != Kind::Text);
    let mut rows: Vec<Row> = asked.map(|i| row(i, drawn.letter(i.id))).collect();
    rows.sort_by_key(|r| (r.letter.is_none(), r.letter, !r.needed));
    let page = SheetPage {
        title: show::capital(measure.plain),
        back: urls::measure(measure.id),
        drawing: drawn.svg,
        rows,
        formulas: by_name(measure)
            .iter()
            .map(|f| formula::in_words(measure, f))
            .collect(),
        safety: show::sentence(measure.safety),
        not: show::sentence(measure.not),
    };
    Ok(Html(page.render()?))
}

fn row(input: &Input, letter: Option<char>) -> Row {
    let unit = input.unit.shown();
    let usual = match (input.kind, input.usual) {
        (Kind::Choice(of), _) => of.join(" · ").replace('-', " "),
        (_, Some(usual)) => format!("usual {} {unit}", show::exact(usual))
            .trim_end()
            .into(),
        _ => String::new(),
    };
    Row {
        letter,
        label: show::capital(input.plain),
        unit,
        boxes: match input.kind {
            Kind::Readings(asked, ..) => asked.clamp(1, MOST_BOXES),
            Kind::Choice(_) => 0,
            _ => 1,
        },
        usual,
        needed: input.needed,
    }
}

//! A ladder read: one number in many bands, each graded; the best value with its interval.

use crate::drawing::ladder::svg;
use crate::form::Fields;
use crate::pages::Page;
use crate::show;
use askama::Template;
use axum::extract::RawQuery;
use axum::response::Html;
use suspect_core::trials::{Best, GO_ON, Ladder};

/// Most bands of the form.
const MOST: usize = 20;

struct Band {
    n: usize,
    value: String,
    grade: String,
}

#[derive(Template)]
#[template(path = "trials/ladder.html")]
struct LadderPage {
    what: String,
    unit: String,
    from: String,
    step: String,
    count: String,
    bands: Vec<Band>,
    problem: Option<String>,
    drawing: Option<String>,
    answer: Option<(String, String, String)>,
}

/// `GET /trials/ladder?what=&unit=&from=&step=&count=&g.1=…`
pub async fn show(RawQuery(query): RawQuery) -> Page {
    let fields = Fields::of_query(query);
    let mut page = LadderPage {
        what: fields.get("what").to_owned(),
        unit: fields.get("unit").to_owned(),
        from: fields.get("from").to_owned(),
        step: fields.get("step").to_owned(),
        count: fields.given("count").unwrap_or("6").to_owned(),
        bands: Vec::new(),
        problem: None,
        drawing: None,
        answer: None,
    };
    if fields.given("from").is_some() {
        read(&mut page, &fields);
    }
    Ok(Html(page.render()?))
}

fn read(page: &mut LadderPage, fields: &Fields) {
    let number = |name: &str| fields.number(name, f64::NAN).map_err(|e| e.to_string());
    let numbers = number("from").and_then(|from| Ok((from, number("step")?)));
    let (from, step) = match numbers {
        Ok(numbers) => numbers,
        Err(why) => {
            page.problem = Some(show::sentence(&show::capital(&why)));
            return;
        }
    };
    let count = page.count.parse().unwrap_or(6).clamp(2, MOST);
    let values: Vec<f64> = (0..count).map(|k| from + step * k as f64).collect();
    let grade = |k: usize| fields.get(&format!("g.{}", k + 1)).to_owned();
    page.bands = values
        .iter()
        .enumerate()
        .map(|(k, v)| Band {
            n: k + 1,
            value: show::exact(*v),
            grade: grade(k),
        })
        .collect();
    let grades: Vec<Option<u8>> = page.bands.iter().map(|b| b.grade.parse().ok()).collect();
    let ladder = Ladder { values, grades };
    if ladder.grades.iter().all(Option::is_none) {
        return;
    }
    match ladder.read() {
        Ok(best) => {
            page.drawing = Some(svg(&ladder, &best, &page.unit));
            page.answer = Some(answer(&best, &ladder, page));
        }
        Err(e) => page.problem = Some(show::sentence(&show::capital(&e.to_string()))),
    }
}

/// The best value, its interval, what to do.
fn answer(best: &Best, ladder: &Ladder, page: &LadderPage) -> (String, String, String) {
    let step = (ladder.values[1] - ladder.values[0]).abs();
    let places = if step >= 1.0 { 1.0 } else { 1000.0 };
    let shown = |v: f64| show::with_unit((v * places).round() / places, &page.unit);
    let then = if best.above >= GO_ON {
        format!(
            "It may lie above the highest band ({}): go on there.",
            show::percent(best.above)
        )
    } else if best.below >= GO_ON {
        format!(
            "It may lie below the lowest band ({}): go on there.",
            show::percent(best.below)
        )
    } else {
        let (low, high) = (shown(best.low - step), shown(best.high + step));
        format!("A finer ladder, if one is wanted: {low} to {high}.")
    };
    let between = format!("{} to {} with 90 %", shown(best.low), shown(best.high));
    (shown(best.best), between, then)
}

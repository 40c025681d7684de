//! A trace of temperature: pasted or sent as a table, judged, drawn with what was recognised on it.

use crate::drawing::bench::picture;
use crate::drawing::chart::{Axis, Chart, Mark, svg};
use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::bench::context::For;
use crate::pages::bench::desk::Desk;
use crate::pages::bench::follows::Follows;
use crate::pages::bench::form::{Typed, in_words};
use crate::pages::bench::measure::named;
use crate::pages::parts::files::{Sent, take};
use crate::pages::parts::reading::InputView;
use crate::pages::{Answer, Page, again};
use crate::state::AppState;
use crate::urls;
use crate::words::{measure as measure_words, reading};
use askama::Template;
use axum::extract::multipart::MultipartRejection;
use axum::extract::{Multipart, RawQuery, State};
use axum::response::{Html, IntoResponse};
use suspect_core::machine::devices;
use suspect_core::measures::{Measure, Refused, Trace, read_trace, signals};
use suspect_store::think;

/// Largest table taken, in bytes: twenty thousand readings are smaller.
pub const LARGEST_TABLE: usize = 2 * 1024 * 1024;
/// A shorter trace says nothing, in seconds.
const LEAST_SECONDS: f64 = 60.0;
/// The field a table is pasted into, and that of a file.
const TABLE: &str = "table";

#[derive(Template)]
#[template(path = "bench/trace.html")]
struct TracePage {
    d: Desk,
    f: Follows,
    table: String,
    table_error: Option<String>,
    /// "600 readings in 600 s, under the head “temp”".
    understood: Option<String>,
    inputs: Vec<InputView>,
    /// Where the machine's temperature is streamed.
    live: Option<String>,
    chart: Option<String>,
}

/// `GET /bench/temperature-trace?case=…&machine=…`
pub async fn show(State(state): State<AppState>, RawQuery(query): RawQuery) -> Page {
    Ok(Html(page(&state, Fields::of_query(query), None).await?))
}

/// `POST /bench/temperature-trace`: a table, pasted or as a file.
pub async fn judged(
    State(state): State<AppState>,
    form: Result<Multipart, MultipartRejection>,
) -> Answer {
    let mut form = form.map_err(|_| PageError::NotAForm)?;
    let sent = take(&mut form, LARGEST_TABLE).await;
    let (fields, read) = think(move || table(sent)).await;
    let wrong = read.is_err();
    let html = page(&state, fields, Some(read)).await?;
    Ok(match wrong {
        true => again(html),
        false => Html(html).into_response(),
    })
}

/// The table of a form: a file goes before what was pasted.
fn table(sent: Sent) -> (Fields, Result<Trace, String>) {
    let mut fields = sent.fields;
    if let Some(file) = sent.files.first() {
        let text = String::from_utf8_lossy(&file.bytes).into_owned();
        fields.push(TABLE.into(), text);
    } else if sent.cut {
        let why = "The table is larger than 2 MB, or broke off on its way: ten minutes at one \
                   reading a second are 600 lines.";
        return (fields, Err(why.into()));
    }
    let read = read_trace(fields.get(TABLE));
    if let Ok(trace) = &read {
        fields.push("time_s".into(), listed(&trace.times));
        fields.push("temp_c".into(), listed(&trace.values));
    }
    (
        fields,
        read.map_err(|Refused(why)| crate::show::sentence(&why)),
    )
}

fn listed(values: &[f64]) -> String {
    let texts: Vec<String> = values.iter().map(f64::to_string).collect();
    texts.join(" ")
}

async fn page(
    state: &AppState,
    fields: Fields,
    read: Option<Result<Trace, String>>,
) -> Result<String, PageError> {
    let measure = named("temperature-trace")?;
    let to = For::read(state, &fields).await?;
    let choices = to.choices(state).await;
    let k = &state.knowledge;
    let html = think(|| {
        let typed = Typed::new(measure, &fields, measure.known(k, &to.facts));
        let sure = fields.get("sure") == "yes";
        let shown = read.as_ref().is_some_and(Result::is_ok);
        let drawing = if shown {
            String::new()
        } else {
            picture(measure.id)
        };
        let d = Desk::of(measure, &fields, &to, choices, drawing);
        let mut sent = typed.parameters();
        sent.extend(d.carried.clone());
        let bench = measure.bench(&typed.raw(), sure);
        let mut f = Follows::of(k, measure, bench, (sent, sure), &to);
        let (mut inputs, _) = typed.views(&typed.drawing(), &f.by_input);
        inputs.retain(|i| !["time_s", "temp_c"].contains(&i.id));
        let trace = read.as_ref().and_then(|r| r.as_ref().ok());
        let lists = ["time_s", "temp_c"];
        let of_lists = lists.iter().find_map(|id| f.by_input.get(id));
        let mut said = of_lists.map(|why| in_words(measure, why));
        if let Some(trace) = trace.filter(|t| t.times.last().is_some_and(|t| *t < LEAST_SECONDS)) {
            // A trace that still grows is no mistake.
            said = None;
            f.missing = Some(format!(
                "a minute at least, ten are better; so far {}",
                span(trace)
            ));
        }
        TracePage {
            table: fields.get(TABLE).to_string(),
            table_error: read
                .as_ref()
                .and_then(|r| r.as_ref().err().cloned())
                .or(said),
            understood: trace.map(understood),
            chart: trace.map(|t| chart(measure, t, &fields, &f)),
            live: live(&to),
            inputs,
            d,
            f,
        }
        .render()
    });
    Ok(html.await?)
}

/// Where the machine's temperature is streamed, when its console is reached.
fn live(to: &For) -> Option<String> {
    let machine = to.machine.as_ref()?;
    let reached = devices(&to.log).contains_key("console");
    reached.then(|| urls::in_machine(machine.id, "trace"))
}

/// "612 s"
fn span(trace: &Trace) -> String {
    let seconds = trace.times.last().copied().unwrap_or(0.0);
    format!("{} s", crate::show::number(seconds))
}

/// How the table was understood.
fn understood(trace: &Trace) -> String {
    let many = trace.times.len();
    let head = trace.head.as_ref();
    let head = head
        .map(|h| format!(", under the head “{h}”"))
        .unwrap_or_default();
    let parted = match trace.separator {
        '\t' => "tabs",
        ';' => "semicolons",
        '|' => "upright strokes",
        ',' => "commas",
        _ => "blanks",
    };
    format!(
        "{many} readings over {}{head}; columns parted by {parted}",
        span(trace)
    )
}

/// The trace with what was recognised on it.
fn chart(measure: &Measure, trace: &Trace, fields: &Fields, f: &Follows) -> String {
    let seen = signals::recognised(&trace.times, &trace.values);
    let mut marks: Vec<Mark> = seen.jumps.iter().map(|at| Mark::Spot(*at)).collect();
    let number = |name: &str| measure_words::number(measure, name, fields.get(name));
    marks.extend(number("fan_from_s").map(|v| Mark::At(v, "fan on".into())));
    let found = f.out.as_ref().map(suspect_core::measures::Out::numbers);
    let mean = found.as_ref().and_then(|n| n.get("mean_c").copied());
    let set = number("set_c");
    // The word of the higher line stands above it, that of the lower one below.
    let below = mean.zip(set).is_some_and(|(mean, set)| mean > set);
    let word = |what: &str, v: f64| format!("{what} {} °C", reading::signed(v));
    let put = |low: bool, v: f64, words: String| match low {
        true => Mark::Low(v, words),
        false => Mark::Level(v, words),
    };
    marks.extend(set.map(|v| put(below, v, word("set", v))));
    marks.extend(mean.map(|v| put(!below, v, word("mean", v))));
    svg(&Chart {
        title: "Temperature over time",
        x: Axis {
            words: "time, s",
            range: Some((0.0, trace.times.last().copied().unwrap_or(1.0))),
            factors: false,
        },
        y: Axis {
            words: "temperature, °C",
            range: None,
            factors: false,
        },
        raw: &seen.points,
        curve: &seen.smooth,
        marks,
    })
}

//! A print file: figures by height beside the layer there, what jumps, what it says of the case.

use super::figures::{self, Value};
use super::findings::{self, FindingsView};
use super::from_spool::{FromSpool, from_spools};
use super::open_file::{For, OpenFile};
use crate::drawing::print_file::layer as drawn;
use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::Page;
use crate::state::AppState;
use crate::words::print_file as words;
use crate::{show, urls};
use askama::Template;
use axum::extract::{RawQuery, State};
use axum::response::Html;
use suspect_core::gcode::trace::Trace;
use suspect_core::gcode::{LineType, Problem, Reading, jumps};
use suspect_core::settings::{NumberId, Reading as Typed};
use suspect_store::{Uuid, think};

/// What the layer view may colour.
const COLOURS: [(&str, &str); 3] = [
    ("type", "what lines are for"),
    ("speed", "speed"),
    ("flow", "flow"),
];

/// Whom the page belongs to, and what may be done there.
struct Owner {
    words: String,
    href: String,
    /// Number of the last entry, where something may be taken over.
    take: Option<(String, u32)>,
    add_href: String,
}

#[derive(Template)]
#[template(path = "files/show.html")]
struct FilePage {
    name: String,
    about: String,
    owner: Option<Owner>,
    hidden: Vec<(&'static str, String)>,
    action: String,
    /// Other print files of the container it came in: name, and where that one is added.
    others: Vec<(String, String)>,
    removed: Option<String>,
    remove_action: String,
    who: String,
    charts: Vec<String>,
    tall: String,
    z: String,
    fault: Option<String>,
    /// The same as a number; empty where none is known.
    fault_mm: String,
    error: Option<String>,
    here: Here,
    whole: Vec<(&'static str, String)>,
    findings: FindingsView,
    settings: Vec<(String, String)>,
    problems: Vec<Problem>,
    against: Vec<(String, String)>,
    ladder_href: String,
    spools: Vec<FromSpool>,
}

/// The layer looked at.
struct Here {
    number: usize,
    count: usize,
    z: String,
    line: u64,
    values: Vec<Value>,
    jumps: Vec<String>,
    drawing: Option<String>,
    legend: Vec<(&'static str, &'static str)>,
    guessed: bool,
    series_href: String,
    layers_href: String,
    colours: [(&'static str, &'static str); 3],
}

/// `GET /files/{file}?case=…&z=…`
pub async fn show(
    State(state): State<AppState>,
    file: OpenFile,
    RawQuery(query): RawQuery,
) -> Page {
    let fields = Fields::of_query(query);
    let to = For::read(&state, &fields).await?;
    let fault = to.facts.settings.get(NumberId::FaultHeightMm);
    let (z, error) = height(&fields, fault, &file.reading);
    let layer = file
        .reading
        .layer_at(z)
        .ok_or(PageError::NotFound("layer"))?;
    let trace = file.trace(&state, layer).await?;
    let good = match &to.good {
        Some((good, _)) if *good != file.row.id => {
            Some(OpenFile::read(&state, *good).await?.reading)
        }
        _ => None,
    };
    let asked = Asked {
        others: fields.all("other").map(str::to_owned).collect(),
        z,
        layer,
        error,
        fault,
    };
    let spools = from_spools(&state, &file, &to).await?;
    let page = || FilePage {
        spools,
        ..view(&state, &file, &to, good.as_ref(), (&asked, trace.as_ref()))
    };
    let html = think(|| page().render());
    Ok(Html(html.await?))
}

/// What is asked of the page.
struct Asked {
    others: Vec<String>,
    z: f64,
    layer: usize,
    error: Option<String>,
    fault: Option<f64>,
}

/// The height looked at: as asked, else that of the fault, else the middle of the print.
fn height(fields: &Fields, fault: Option<f64>, reading: &Reading) -> (f64, Option<String>) {
    let tall = reading.layers.last().map_or(0.0, |l| l.z);
    let usual = fault.unwrap_or(tall / 2.0);
    let Some(text) = fields.given("z") else {
        return (usual, None);
    };
    match NumberId::FaultHeightMm.number().read(text) {
        Ok(Typed { value, .. }) => (value, None),
        Err(problem) => (usual, Some(crate::words::refusal::number(&problem))),
    }
}

fn view(
    state: &AppState,
    file: &OpenFile,
    to: &For,
    good: Option<&Reading>,
    (asked, trace): (&Asked, Option<&Trace>),
) -> FilePage {
    let (k, id, reading) = (&state.knowledge, file.row.id, &file.reading);
    let said = findings::of(k, reading, to, asked.fault, good);
    let tall = reading.layers.iter().map(|l| l.z).fold(0.0, f64::max);
    let owner = owner(to, id);
    FilePage {
        name: to.name_of(id),
        about: about(file),
        others: others(owner.as_ref(), &asked.others),
        owner,
        hidden: to.parameters(),
        action: urls::print_file(id),
        removed: file.row.removed.as_ref().map(|(by, reason, at)| {
            format!(
                "The file itself was removed by {by} on {}: {reason}",
                show::date(*at)
            )
        }),
        remove_action: format!("{}/remove", urls::print_file(id)),
        who: crate::screen::who_shown().unwrap_or_default(),
        charts: figures::charts(reading, &to.facts, asked.z, asked.fault),
        tall: hundredths(tall),
        z: hundredths(asked.z),
        fault: asked.fault.map(|z| show::with_unit(z, "mm")),
        fault_mm: asked.fault.map(hundredths).unwrap_or_default(),
        error: asked.error.clone(),
        here: here(file, to, asked, trace),
        whole: figures::whole(reading),
        findings: findings::view(k, &said, to),
        settings: reading
            .settings
            .iter()
            .map(|(n, v)| (n.clone(), v.clone()))
            .collect(),
        problems: reading.problems.iter().take(20).cloned().collect(),
        against: against(to, id),
        ladder_href: to.address(id, "/ladder", &[]),
        spools: Vec::new(),
    }
}

/// Millimetres to a hundredth, as they stand in a field.
fn hundredths(mm: f64) -> String {
    show::exact((mm * 100.0).round() / 100.0)
}

fn about(file: &OpenFile) -> String {
    let megabytes = file.row.text_bytes as f64 / 1e6;
    let size = if megabytes < 1.0 {
        format!("{:.0} kB", megabytes * 1000.0)
    } else {
        format!("{megabytes:.1} MB")
    };
    let (lines, layers) = (file.reading.lines, file.reading.layers.len());
    format!("{size}, {lines} lines, {layers} layers")
}

fn owner(to: &For, file: Uuid) -> Option<Owner> {
    if let Some(case) = &to.case {
        let head = case.head();
        let open = !case.state.resolved();
        let take = case.below(&format!("files/{file}/take"));
        return Some(Owner {
            words: format!("{} {}", head.label, head.title),
            href: head.href,
            take: open.then_some((take, head.seq)),
            add_href: case.below("files"),
        });
    }
    let machine = to.machine.as_ref()?;
    Some(Owner {
        words: machine.name.clone(),
        href: urls::machine(machine.id),
        take: None,
        add_href: urls::in_machine(machine.id, "files"),
    })
}

/// Where each of the other print files of a container is added.
fn others(owner: Option<&Owner>, names: &[String]) -> Vec<(String, String)> {
    let add = |name: &String| {
        let href = urls::with(&owner?.add_href, &[("entry", name.clone())]);
        Some((name.clone(), href))
    };
    names.iter().filter_map(add).collect()
}

/// Files it may be compared with: others of the case, the last good one of the machine.
fn against(to: &For, file: Uuid) -> Vec<(String, String)> {
    let good = to
        .good
        .iter()
        .map(|(id, name)| (*id, format!("last good file: {name}")));
    let of_case = to.case.iter().flat_map(|case| &case.state.files);
    let of_case = of_case.filter_map(|f| Some((f.id.parse().ok()?, f.name.clone())));
    let others = good
        .chain(of_case)
        .filter(|(id, _): &(Uuid, String)| *id != file);
    others
        .map(|(id, name)| (name, to.address(id, &format!("/against/{file}"), &[])))
        .collect()
}

fn here(file: &OpenFile, to: &For, asked: &Asked, trace: Option<&Trace>) -> Here {
    let reading = &file.reading;
    let at = &reading.layers[asked.layer];
    let z = show::with_unit((at.z * 1000.0).round() / 1000.0, "mm");
    let label = format!("Layer {} at {z}, from above", asked.layer + 1);
    let laid = LineType::ALL
        .into_iter()
        .filter(|t| reading.by_type(*t).0 > 0.0);
    Here {
        number: asked.layer + 1,
        count: reading.layers.len(),
        z,
        line: at.line,
        values: figures::values(reading, asked.layer),
        jumps: jumps::at(reading, asked.z)
            .iter()
            .map(words::jump)
            .collect(),
        drawing: trace.map(|trace| drawn::svg(trace, at.extent, &label)),
        legend: laid
            .map(|t| (drawn::type_class(t), words::line_type(t)))
            .collect(),
        guessed: !reading.types_named,
        series_href: to.address(file.row.id, "/series", &[]),
        layers_href: format!("{}/layers", urls::print_file(file.row.id)),
        colours: COLOURS,
    }
}

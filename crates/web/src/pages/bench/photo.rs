//! On a photo of a case: a reference of known length sets the scale, lines and marks are measured,
//! the spacing of bands or ripples along a line is found.

use crate::drawing::chart::{Axis, Chart, Mark, svg};
use crate::form::Fields;
use crate::pages::Page;
use crate::pages::bench::context::For;
use crate::pages::bench::follows::Follows;
use crate::pages::bench::form::{Typed, in_words};
use crate::pages::bench::measure::named;
use crate::pages::bench::points::{Kind, Placed};
use crate::pages::open_case::{CaseHead, OpenCase};
use crate::pages::parts::link::Link;
use crate::pages::parts::pictures::{bytes, find};
use crate::pages::parts::reading::InputView;
use crate::state::AppState;
use crate::words::measure as words;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Path, RawQuery, State};
use axum::response::Html;
use suspect_core::knowledge::Knowledge;
use suspect_core::measures::{Inputs, Measure, Output, Raw, measure, signals};
use suspect_pictures::{Grey, kept_size};
use suspect_store::think;

#[derive(Template)]
#[template(path = "bench/photo.html")]
struct PhotoPage {
    head: CaseHead,
    title: String,
    back: String,
    full: String,
    name: String,
    width: u32,
    height: u32,
    action: String,
    /// What may be measured: address, words, whether it is this.
    ways: Vec<(String, &'static str, bool)>,
    what: &'static str,
    into: String,
    overlay: String,
    points: Vec<InputView>,
    inputs: Vec<InputView>,
    more: Vec<InputView>,
    charts: Vec<String>,
    error: Option<String>,
    /// Measures the result may go into.
    onward: Vec<Link>,
    f: Follows,
}

/// `GET /cases/{id}/pictures/{picture}/measure?what=…` and the places by name, in pixels of the
/// kept picture.
pub async fn show(
    State(state): State<AppState>,
    case: OpenCase,
    Path((_, picture)): Path<(String, String)>,
    RawQuery(query): RawQuery,
) -> Page {
    let mut fields = Fields::of_query(query);
    fields.push("case".into(), case.id.to_string());
    let kind = Kind::named(fields.get("what"));
    let size = {
        let j = &find(&case, &picture)?.judgement;
        kept_size(j.width, j.height)
    };
    let placed = Placed::read(kind, &fields, size);
    let photo = match kind {
        Kind::Rhythm => Some(bytes(&state.store, &case, &picture, false).await?),
        _ => None,
    };
    let to = For::read(&state, &fields).await?;
    let html = think(|| {
        let profile = photo.map(|bytes| profile(&bytes, &placed));
        view(&state, (&case, &to), &picture, (&fields, &placed), profile)?.render()
    });
    Ok(Html(html.await?))
}

/// Brightness along the line, or why there is none.
fn profile(bytes: &[u8], placed: &Placed) -> Result<Vec<f64>, String> {
    let photo = Grey::open(bytes).map_err(|why| show::sentence(&why.to_string()))?;
    let [x1, y1, x2, y2] = placed.line();
    let along = photo.along((x1, y1), (x2, y2));
    along.ok_or_else(|| "The line must lie within the photo.".to_string())
}

fn view(
    state: &AppState,
    (case, to): (&OpenCase, &For),
    picture: &str,
    (fields, placed): (&Fields, &Placed),
    profile: Option<Result<Vec<f64>, String>>,
) -> Result<PhotoPage, askama::Error> {
    let k = &state.knowledge;
    let kind = placed.kind;
    let of = measure(kind.measure()).map_err(|_| askama::Error::Fmt)?;
    let typed = Typed::new(of, fields, of.known(k, &to.facts));
    let line = profile.as_ref().and_then(|p| p.as_ref().ok());
    let href = urls::picture(case.id, picture);
    let action = format!("{href}/measure");
    let (raw, mut f) = reckoned(
        k,
        (of, &typed),
        (fields, placed),
        line.map(Vec::as_slice),
        to,
    );
    f.action.clone_from(&action);
    let (inputs, more) = fields_of(kind, &typed, &f);
    let of_places = f.by_input.iter().find(|(id, _)| kind.places(id));
    let of_places = of_places.map(|(_, why)| in_words(of, why));
    let charts = line
        .map(|line| charts(of, line, &raw, &f))
        .unwrap_or_default();
    // What is kept is kept of numbers, not of places: from the measure the result goes into.
    f.keepings.retain(|_| kind == Kind::Heights);
    Ok(PhotoPage {
        head: case.head(),
        title: show::capital(of.plain),
        back: href.clone(),
        full: format!("{href}/full.jpg"),
        name: find(case, picture)
            .map(|p| p.name.clone())
            .unwrap_or_default(),
        width: placed.size.0,
        height: placed.size.1,
        ways: Kind::ALL
            .map(|to| (placed.address(&action, to, fields), to.words(), to == kind))
            .into(),
        what: kind.id(),
        into: fields.get("into").to_string(),
        overlay: placed.overlay(),
        points: placed.views(),
        error: profile.and_then(Result::err).or(of_places),
        onward: onward(case, kind, fields.get("into"), &f),
        inputs,
        more,
        charts,
        action,
        f,
    })
}

/// What follows from the places and the numbers beside them.
fn reckoned(
    k: &Knowledge,
    (of, typed): (&'static Measure, &Typed),
    (fields, placed): (&Fields, &Placed),
    line: Option<&[f64]>,
    to: &For,
) -> (Inputs, Follows) {
    let mut raw = typed.raw();
    placed.fill(&mut raw, line);
    let mut sent = typed.parameters();
    sent.extend(placed.parameters());
    sent.push(("what", placed.kind.id().into()));
    sent.push(("into", fields.get("into").into()));
    let sure = fields.get("sure") == "yes";
    let f = Follows::of(k, of, of.bench(&raw, sure), (sent, sure), to);
    (raw, f)
}

/// The fields beside the places: those that stand open, and the usual ones.
fn fields_of(kind: Kind, typed: &Typed, f: &Follows) -> (Vec<InputView>, Vec<InputView>) {
    let (mut inputs, mut more) = typed.views(&typed.drawing(), &f.by_input);
    for view in [&mut inputs, &mut more] {
        view.retain(|i| !kind.places(i.id));
        for input in view {
            input.letter = None;
        }
    }
    (inputs, more)
}

/// The line as it was read, and its rhythms.
fn charts(of: &Measure, line: &[f64], raw: &Inputs, f: &Follows) -> Vec<String> {
    let number = |id: &str| match raw.get(id) {
        Some(Raw::Number(v)) => Some(*v),
        Some(Raw::Text(t)) => words::number(of, id, t),
        _ => None,
    };
    let per_mm = number("scale_px")
        .zip(number("scale_mm"))
        .map(|(px, mm)| px / mm);
    let per_mm = per_mm.filter(|k| *k > 0.0);
    let unit = if per_mm.is_some() { "mm" } else { "pixels" };
    let k = per_mm.unwrap_or(1.0);
    let in_units = |curve: Vec<(f64, f64)>| -> Vec<(f64, f64)> {
        curve.into_iter().map(|(x, y)| (x / k, y)).collect()
    };
    let found = f
        .out
        .as_ref()
        .map(suspect_core::measures::Out::numbers)
        .unwrap_or_default();
    let mut marks = Vec::new();
    if let Some(spacing) = found.get("spacing_mm") {
        marks.push(Mark::At(*spacing, format!("{} mm", show::number(*spacing))));
    }
    if let Some(layer) = found.get("layer_seen_mm") {
        marks.push(Mark::At(*layer, "layers".into()));
    }
    let axis = |words, factors, range| Axis {
        words,
        range,
        factors,
    };
    let along = format!("along the line, {unit}");
    let spacing = format!("spacing, {unit}");
    let bright = in_units(signals::brightness(line));
    let rhythms = in_units(signals::rhythms(line, 2.0));
    [
        Chart {
            title: "Brightness along the line",
            x: axis(&along, false, None),
            y: axis("brightness, 0 to 255", false, None),
            raw: &[],
            curve: &bright,
            marks: Vec::new(),
        },
        Chart {
            title: "How strongly each spacing repeats",
            x: axis(&spacing, true, None),
            y: axis("strength, share of the strongest", false, Some((0.0, 1.0))),
            raw: &[],
            curve: &rhythms,
            marks,
        },
    ]
    .map(|c| svg(&c))
    .into()
}

/// Where the number may go: into the measure that asked for it, else into those that ask for such.
fn onward(case: &OpenCase, kind: Kind, into: &str, f: &Follows) -> Vec<Link> {
    let found = f.out.iter().flat_map(|o| &o.outputs);
    let value = found.clone().find_map(|(name, v)| match v {
        Output::Number(v) if name == kind.result() => Some(*v),
        _ => None,
    });
    let Some(value) = value else {
        return Vec::new();
    };
    let asked = into.split_once(':').into_iter();
    let link = |(id, input): (&str, &str)| {
        let of: &Measure = named(id).ok()?;
        let input = of.input(input)?;
        let parameters = [
            (input.id, show::exact(value)),
            ("case", case.id.to_string()),
        ];
        Some(Link {
            href: urls::with(&urls::measure(of.id), &parameters),
            name: format!("{}: {}", show::capital(of.plain), words::bare(input)),
        })
    };
    let all = asked.chain(kind.goes_into().iter().copied());
    let mut links: Vec<Link> = all.filter_map(link).collect();
    links.dedup_by(|a, b| a.href == b.href);
    links
}

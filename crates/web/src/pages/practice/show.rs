//! A practice case being played; looked back on when it has ended.

use super::known::{self, KnownLine};
use super::listed::{self, PlaceView, WorkLine};
use super::open::OpenPractice;
use super::{debrief, line_up, list};
use crate::drawing::instrument;
use crate::drawing::machine_map;
use crate::page_error::PageError;
use crate::pages::Page;
use crate::pages::parts::line_up::LineUpView;
use crate::pages::parts::link::Choice;
use crate::show;
use crate::state::AppState;
use crate::words::practice as words;
use askama::Template;
use axum::extract::{Query, State};
use axum::response::Html;
use std::collections::BTreeMap;
use suspect_rehearsal::practice::{Act, Answered, Desk, Play, PracticeCase};
use suspect_store::think;

/// Steps after which one is asked again what one believes.
const ASKED_AGAIN_AFTER: usize = 4;

/// An instrument to be read.
pub struct InstrumentView {
    pub plain: String,
    pub unit: &'static str,
    pub drawing: String,
    /// What is known beside it.
    pub beside: Vec<String>,
    /// Where a tone is heard.
    pub tone: Option<String>,
}

/// One slider: whose, and where it stands.
pub struct Slider {
    pub n: usize,
    pub name: String,
    pub share: u32,
}

#[derive(Template)]
#[template(path = "practice/show.html")]
struct ShowPage {
    here: String,
    title: String,
    words: String,
    machine: String,
    machine_words: String,
    map: String,
    beside: Vec<(String, &'static str)>,
    place: Option<PlaceView>,
    at: String,
    known: Vec<KnownLine>,
    /// What came of the last thing that was done.
    last: Option<String>,
    instrument: Option<InstrumentView>,
    paid: String,
    word: String,
    works: [Vec<WorkLine>; 2],
    line_up: Option<LineUpView>,
    shown: Vec<Choice>,
    /// Sliders, and whether it is the second time.
    beliefs: Option<(Vec<Slider>, bool)>,
}

/// `GET /practice/cases/{id}`
pub async fn show(
    State(state): State<AppState>,
    open: OpenPractice,
    Query(query): Query<BTreeMap<String, String>>,
) -> Page {
    let html = think(|| match open.row.ended {
        None => playing(&state, &open, &query),
        Some(_) => debrief::page(&state, &open),
    });
    Ok(Html(html.await?))
}

/// What a case is called; how hard a surprise is, it does not say.
fn title(case: &PracticeCase) -> String {
    match &case.past {
        Some(past) => format!("A case of this workshop's past, {}", past.label),
        None if case.surprise => "A case".to_string(),
        None => {
            let level = words::level_short(case.level);
            format!("A case: {}", show::lower_first(level))
        }
    }
}

fn playing(
    state: &AppState,
    open: &OpenPractice,
    query: &BTreeMap<String, String>,
) -> Result<String, PageError> {
    let k = &state.knowledge;
    let desk = Desk::new(k, &open.workshop, &open.case);
    let mut play = Play::new(&desk);
    let mut last = None;
    for act in open.acts() {
        last = Some(play.act(act));
    }
    let here = open.href();
    let given = |name: &str| query.get(name).map(String::as_str).unwrap_or_default();
    let acts = open.done.iter().map(|(act, _)| act);
    let steps = acts.clone().filter(|a| !matches!(a, Act::Believe(_)));
    let shown = match open.row.shown.as_str() {
        "always" => true,
        "after" => steps.clone().count() > 0,
        _ => false,
    };
    let context = &open.case.told.context;
    let known_of = context
        .known()
        .map(|(f, v)| format!("{}: {}", f.plain, v.plain));
    let (minutes, money, _) = play.spent();
    let money = show::money(money, &open.workshop.currency);
    let page = ShowPage {
        title: title(&open.case),
        words: open.case.words.join("; "),
        machine: machine_map::picture(context, "The machine"),
        machine_words: known_of.collect::<Vec<_>>().join(" · "),
        map: listed::map(k, &play, &here, given("at")),
        beside: listed::beside(&here),
        place: listed::place(k, &play, given("at")),
        at: given("at").to_string(),
        known: known::known(k, &open.case, &play),
        last: match given("known") {
            "" => last.as_ref().and_then(|a| said(k, a)),
            _ => Some(
                "That changes nothing: it is known, done, or not there. Nothing is paid.".into(),
            ),
        },
        instrument: instrument_view(&here, &play),
        paid: match money {
            Some(money) => format!("{} and {money}", show::minutes(minutes)),
            None => show::minutes(minutes),
        },
        word: given("q").to_string(),
        works: listed::works(k, &here, &play, given("q")),
        line_up: shown.then(|| line_up::of(k, play.facts())),
        shown: list::shown_choices(&open.row.shown),
        beliefs: beliefs(k, open, steps.count()),
        here,
    };
    Ok(page.render()?)
}

/// The sliders, at the beginning and once more later.
fn beliefs(
    k: &suspect_core::knowledge::Knowledge,
    open: &OpenPractice,
    steps: usize,
) -> Option<(Vec<Slider>, bool)> {
    let said: Vec<&Vec<f64>> = open
        .acts()
        .filter_map(|a| match a {
            Act::Believe(shares) => Some(shares),
            _ => None,
        })
        .collect();
    let again = match said.len() {
        0 => false,
        1 if steps >= ASKED_AGAIN_AFTER => true,
        _ => return None,
    };
    let asked = open.case.asked.iter().map(|c| k.cause(*c).name.clone());
    let names = asked.chain(["Somebody else".to_string()]);
    let even = 100 / (open.case.asked.len() as u32 + 1);
    let before = |n: usize| said.first().and_then(|s| s.get(n).copied());
    let slider = |(n, name): (usize, String)| Slider {
        n,
        name,
        share: before(n).map_or(even, |s| (s * 100.0).round() as u32),
    };
    Some((names.enumerate().map(slider).collect(), again))
}

fn instrument_view(here: &str, play: &Play<'_>) -> Option<InstrumentView> {
    let (_, _, shown) = play.waits.as_ref()?;
    Some(InstrumentView {
        plain: show::capital(shown.plain),
        unit: shown.unit,
        drawing: instrument::svg(shown.value, shown.unit),
        beside: shown
            .beside
            .iter()
            .map(|(plain, v, unit)| {
                format!("{}: {}", show::capital(plain), show::with_unit(*v, unit))
            })
            .collect(),
        tone: (shown.unit == "Hz").then(|| format!("{here}/tone.wav")),
    })
}

/// What came of something, in words.
fn said(k: &suspect_core::knowledge::Knowledge, answered: &Answered) -> Option<String> {
    Some(match answered {
        Answered::State(f, state) => format!("{}.", known::words(k, *f, *state)),
        Answered::Read(r, true) => format!("Read rightly: {}.", show::with_unit(r.value, r.unit)),
        Answered::Read(r, false) => format!(
            "Misread: it shows {}. That is what is reckoned with.",
            show::with_unit(r.value, r.unit)
        ),
        Answered::Fixed(fix, result) => format!(
            "{}: {}.",
            k.fix(*fix).work.name,
            crate::words::outcome::result(*result)
        ),
        Answered::No(why) => show::sentence(why),
        Answered::Believed => "What you believe is kept.".into(),
        Answered::Instrument(_) | Answered::Ended | Answered::Again => return None,
    })
}

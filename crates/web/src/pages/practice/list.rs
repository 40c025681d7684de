//! The place of practice: the case of the day, what goes on, drills that are due, what was passed.

use super::act::SHOWN;
use super::open::href;
use super::{owner, wanted};
use crate::drawing::share_bar;
use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::pages::Page;
use crate::pages::parts::link::Choice;
use crate::state::AppState;
use crate::words::practice as words;
use crate::{screen, show};
use askama::Template;
use axum::extract::State;
use axum::response::Html;
use suspect_core::people::Deed;
use suspect_rehearsal::practice::{LEVELS, Level, Result as Came, calibration, truth};
use suspect_store::Uuid;
use suspect_store::practice::PracticeRow;

/// Cases listed that ended.
const LISTED: usize = 12;

pub struct Line {
    pub href: String,
    pub level: &'static str,
    pub begun: String,
    pub how: String,
    pub passed: bool,
}

/// How a level went.
pub struct LevelLine {
    pub level: &'static str,
    pub played: usize,
    pub passed: usize,
    /// Mean minutes above the advice.
    pub score: String,
    pub families: String,
}

/// A band of calibration, drawn.
pub struct BandLine {
    pub words: String,
    pub drawing: String,
}

#[derive(Template)]
#[template(path = "practice/list.html")]
struct ListPage {
    chapter: &'static str,
    /// The day, its seed, its level.
    day: String,
    day_seed: String,
    going: Vec<Line>,
    ended: Vec<Line>,
    levels: Vec<LevelLine>,
    bands: Vec<BandLine>,
    due: usize,
    drilled: usize,
    seed: String,
    choices: [Vec<Choice>; 4],
    rates: bool,
    differs: bool,
    case: Uuid,
    errors: Errors,
    signs_in: bool,
    asks: bool,
    kept: usize,
}

/// When the line-up is shown, as a form says it.
pub(super) fn shown(sent: &str) -> &'static str {
    SHOWN.into_iter().find(|s| *s == sent).unwrap_or("after")
}

/// Choices of when the line-up is shown.
pub(super) fn shown_choices(chosen: &str) -> Vec<Choice> {
    let words = [
        "Hidden until the end",
        "Shown after each step",
        "Shown always",
    ];
    let of = |(value, label): (&str, &str)| Choice {
        value: value.into(),
        label: label.into(),
        chosen: value == chosen,
    };
    SHOWN.into_iter().zip(words).map(of).collect()
}

/// `GET /practice`
pub async fn show(State(state): State<AppState>) -> Page {
    let fields = Fields::default();
    Ok(Html(page(&state, &fields, Errors::new()).await?))
}

/// The page with what was asked for and what is wrong with it.
pub(super) async fn page(
    state: &AppState,
    fields: &Fields,
    errors: Errors,
) -> Result<String, PageError> {
    let rows = state.store.practice_cases(&owner()).await?;
    let cards = state.store.practice_cards(&owner()).await?;
    let machines = state.store.machines().await?;
    let now = state.now();
    let day = now.date();
    let number = day.year().unsigned_abs() * 10_000
        + u32::from(u8::from(day.month())) * 100
        + u32::from(day.day());
    let seed = fields.sent("seed").map(str::to_string);
    let going = rows.iter().filter(|r| r.ended.is_none());
    let ended = rows.iter().filter(|r| r.ended.is_some());
    let page = ListPage {
        chapter: "practice",
        day: show::date(now),
        day_seed: number.to_string(),
        going: going.map(line).collect(),
        ended: ended.take(LISTED).map(line).collect(),
        levels: LEVELS
            .iter()
            .filter_map(|l| level_line(&rows, *l))
            .collect(),
        bands: bands(state, &rows).await?,
        due: cards.iter().filter(|c| c.due_at <= now).count(),
        drilled: cards.len(),
        seed: seed.unwrap_or_else(|| (now.unix_timestamp() % 100_000).to_string()),
        choices: [
            wanted::any_levels(fields.given("level").unwrap_or(wanted::ANY)),
            wanted::families(fields.get("family")),
            wanted::machines(&machines, fields.get("machine")),
            shown_choices(shown(fields.get("line_up"))),
        ],
        rates: fields.get("rates") == "yes",
        differs: fields.get("differs") == "yes",
        case: Uuid::now_v7(),
        errors,
        signs_in: screen::signs_in(),
        asks: screen::with_present(|p| p.may(Deed::Rate)).unwrap_or(false),
        kept: rows.len() + cards.len(),
    };
    Ok(page.render()?)
}

fn level_of(row: &PracticeRow) -> Option<Level> {
    Level::from_id(&row.level)
}

/// Whether its level is said at the end alone.
fn surprise(row: &PracticeRow) -> bool {
    row.drawn["surprise"].as_bool().unwrap_or(false)
}

fn came(row: &PracticeRow) -> Option<Came> {
    serde_json::from_value(row.result.clone()?).ok()
}

fn line(row: &PracticeRow) -> Line {
    let how = match (&row.ended, came(row)) {
        (Some(end), Some(came)) => format!(
            "{} · {} min, the advice {}",
            words::ended(end),
            show::number(came.minutes.round()),
            show::number(came.advice.minutes.round())
        ),
        _ => String::new(),
    };
    Line {
        href: href(row.id),
        level: match (&row.ended, surprise(row)) {
            (None, true) => "A case",
            _ => level_of(row).map_or("", words::level_short),
        },
        begun: show::moment(row.begun_at),
        how,
        passed: row.passed,
    }
}

fn level_line(rows: &[PracticeRow], level: Level) -> Option<LevelLine> {
    let of = |r: &&PracticeRow| r.ended.is_some() && level_of(r) == Some(level);
    let played: Vec<&PracticeRow> = rows.iter().filter(of).collect();
    if played.is_empty() {
        return None;
    }
    let scores: Vec<f64> = played
        .iter()
        .filter_map(|r| Some(came(r)?.score()))
        .collect();
    let mean = scores.iter().sum::<f64>() / scores.len().max(1) as f64;
    let family = |r: &&PracticeRow| suspect_core::knowledge::Family::from_id(&r.family);
    let mut families: Vec<&str> = played
        .iter()
        .filter_map(family)
        .map(crate::words::outcome::family)
        .collect();
    families.sort_unstable();
    families.dedup();
    Some(LevelLine {
        level: words::level_short(level),
        played: played.len(),
        passed: played.iter().filter(|r| r.passed).count(),
        score: words::score(mean),
        families: families.join(", "),
    })
}

/// What was believed in cases that ended, and how often it was so.
async fn bands(state: &AppState, rows: &[PracticeRow]) -> Result<Vec<BandLine>, PageError> {
    use suspect_rehearsal::practice::{Act, Kept};
    let beliefs = state.store.practice_beliefs(&owner()).await?;
    let mut said = Vec::new();
    for (case, act) in beliefs {
        let row = rows.iter().find(|r| r.id == case && r.ended.is_some());
        let Some(Act::Believe(shares)) = serde_json::from_value(act).ok() else {
            continue;
        };
        let kept = row.and_then(|r| serde_json::from_value::<Kept>(r.drawn.clone()).ok());
        if let Some(case) = kept.and_then(|kept| kept.open(&state.knowledge).ok()) {
            said.extend(shares.into_iter().zip(truth(&case)));
        }
    }
    let band = |b: suspect_rehearsal::practice::Band| BandLine {
        words: format!(
            "said {}, so {} of {} times",
            show::percent(b.said),
            show::number((b.came * b.many as f64).round()),
            b.many
        ),
        drawing: share_bar::svg(b.came, Some(b.said)),
    };
    Ok(calibration(&said).into_iter().map(band).collect())
}

//! What a machine's book says, for its page.

use super::open_book::OpenBook;
use super::view::{
    DueLine, PartLine, QuirkLine, ValuesLine, differences, due_line, part_line, quirk_lines,
    uncalibrated, values_lines,
};
use crate::drawing::machine_map::{PartLink, svg};
use crate::drawing::spot::Tally;
use crate::page_error::PageError;
use crate::state::AppState;
use crate::words::{journal, region};
use crate::{show, urls};
use suspect_core::book::{Book, Stage, steps};
use suspect_core::knowledge::{Knowledge, Region};
use suspect_core::machine::{VALUES, Value};
use suspect_core::profile::{FIELDS, MATERIAL};
use suspect_core::shelf::Spool;
use time::OffsetDateTime;

/// What the book says.
pub struct BookView {
    pub drawing: String,
    pub counter: Option<String>,
    pub pace: Option<String>,
    pub retired: Option<String>,
    /// Tasks that are due, and soon due.
    pub due: Vec<DueLine>,
    /// All tasks of the machine.
    pub upkeep: Vec<DueLine>,
    pub parts: Vec<PartLine>,
    /// Kind: name and address.
    pub kind: Option<(String, String)>,
    pub quirks: Vec<(&'static str, Vec<QuirkLine>)>,
    pub quirks_open: usize,
    pub values: Vec<ValuesLine>,
    pub uncalibrated: String,
    pub good: Option<(String, String)>,
    pub differences: Vec<(String, String)>,
    pub spools: Vec<(String, String)>,
    /// It is being brought into service, or never printed as far as is known.
    pub in_commission: bool,
    /// How far it is brought into service: words and address.
    pub commissioning: (String, String),
    pub write: String,
    pub kept: String,
    pub label: String,
    /// What may be written down: parts, values.
    pub can_fit: Vec<(&'static str, &'static str)>,
    /// The last day something can have been done.
    pub today: String,
    pub can_find: Vec<(&'static str, String)>,
    pub materials: Vec<(&'static str, &'static str)>,
}

pub async fn book_view(
    state: &AppState,
    open: &OpenBook<'_>,
    now: OffsetDateTime,
) -> Result<BookView, PageError> {
    let k = &state.knowledge;
    let (machine, book) = (&open.shelved.machine, &open.shelved.book);
    let (workshop, _) = state.workshop().await?;
    let mut due: Vec<DueLine> = open.due.iter().map(|d| due_line(d, now)).collect();
    due.retain(|d| d.over || d.soon);
    due.sort_by_key(|d| !d.over);
    let quirks = quirk_lines(k, open, &workshop.currency);
    let all = quirks.iter().flat_map(|(_, lines)| lines);
    let spools = state.store.things::<Spool>().await?;
    let here = spools
        .iter()
        .filter(|s| s.is.machine == machine.id.to_string());
    let never = uncalibrated(open, now);
    Ok(BookView {
        drawing: drawing(open),
        counter: book
            .total()
            .map(|h| format!("{}\u{a0}h", show::number(h.round()))),
        pace: book
            .hours_a_week()
            .map(|h| format!("{}\u{a0}h a week", show::tenths(h))),
        retired: book.retired.clone(),
        due,
        upkeep: open.due.iter().map(|d| due_line(d, now)).collect(),
        parts: open
            .states
            .iter()
            .map(|s| part_line(machine.id, s))
            .collect(),
        kind: open.kind.map(|k| (k.name.clone(), urls::kind(&k.id))),
        quirks_open: all.filter(|q| q.open).count(),
        quirks,
        values: values_lines(open, now),
        uncalibrated: never.join(", "),
        good: good(book),
        differences: differences(k, open),
        spools: here.map(|s| (s.is.name(), urls::spool(s.id))).collect(),
        write: urls::in_machine(machine.id, "journal"),
        kept: urls::in_machine(machine.id, "kept"),
        label: urls::in_machine(machine.id, "label"),
        can_fit: can_fit(open),
        today: show::form_day(now),
        can_find: can_find(),
        in_commission: match &book.commissioning {
            Some(on) => steps(k, &open.shelved.context, on, false)
                .iter()
                .any(|s| s.stage != Stage::Well),
            None => book.readings.is_empty(),
        },
        commissioning: commissioning(k, open),
        materials: materials(),
    })
}

fn materials() -> Vec<(&'static str, &'static str)> {
    let values = FIELDS[MATERIAL].values.iter();
    values.map(|v| (v.id, v.plain)).collect()
}

/// The last good print: words, and the case it proved.
fn good(book: &Book) -> Option<(String, String)> {
    let good = book.good.as_ref()?;
    let case = good.case.parse().ok().map(urls::case).unwrap_or_default();
    Some((journal::with_note(&show::date(good.at), &good.note), case))
}

/// How far it is brought into service: words and address.
fn commissioning(k: &Knowledge, open: &OpenBook<'_>) -> (String, String) {
    let href = urls::in_machine(open.shelved.machine.id, "commission");
    let Some(on) = &open.shelved.book.commissioning else {
        return ("Bring it into service".into(), href);
    };
    let all = steps(k, &open.shelved.context, on, false);
    let well = all.iter().filter(|s| s.stage == Stage::Well).count();
    let words = match well == all.len() {
        true => "Was brought into service".into(),
        false => format!("Into service: {well} of {} steps", all.len()),
    };
    (words, href)
}

/// Parts that this machine has.
fn can_fit(open: &OpenBook<'_>) -> Vec<(&'static str, &'static str)> {
    open.states
        .iter()
        .map(|s| (s.hours.part.id, s.hours.part.name))
        .collect()
}

/// Values that may be found for it, with their units.
fn can_find() -> Vec<(&'static str, String)> {
    let words = |v: &'static Value| format!("{} {}", show::capital(v.number.plain), v.number.unit);
    VALUES.iter().map(|v| (v.id, words(v))).collect()
}

/// The machine as it is built; what is due stands at its parts.
fn drawing(open: &OpenBook<'_>) -> String {
    let tally = |region: Region| Tally {
        due: open
            .due
            .iter()
            .filter(|d| d.task.region == region && d.now())
            .count(),
        ..Tally::default()
    };
    let link = |region: Region| PartLink {
        region,
        name: match region {
            Region::Electrics => "Plugs and cables",
            other => region::title(other),
        },
        href: "#due".into(),
        chosen: false,
        tally: tally(region),
    };
    let there = |region: &Region| {
        let wears = open.states.iter().any(|s| s.hours.part.region == *region);
        wears || open.due.iter().any(|d| d.task.region == *region)
    };
    let links: Vec<PartLink> = Region::of_machine().filter(there).map(link).collect();
    svg(&open.shelved.context, &links)
}

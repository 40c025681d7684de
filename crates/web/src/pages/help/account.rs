//! A short account of a solved case for others: what misled, what told, what fixed it, how long it
//! held. Which private parts it carries is chosen.

use crate::page_error::PageError;
use crate::pages::help::markdown::{md, tidy};
use crate::pages::open_case::OpenCase;
use crate::pages::parts::link::Choice;
use crate::pages::{Answer, Page};
use crate::state::AppState;
use crate::words::{evidence, outcome, work};
use crate::{show, urls};
use askama::Template;
use axum::extract::{Query, State};
use axum::http::header;
use axum::response::{Html, IntoResponse};
use std::collections::BTreeMap;
use suspect_core::case::{Account, Status, Weighed, account};
use suspect_core::knowledge::Knowledge;
use suspect_core::profile::FieldId;
use suspect_store::think;

/// Parts that may be private: field, words, whether they are told unless somebody says otherwise.
const PARTS: [(&str, &str, bool); 6] = [
    ("title", "The title of the case", true),
    ("words", "What was told, in your words", false),
    ("kind", "The kind of machine", false),
    ("numbers", "Temperatures and other settings", true),
    ("note", "The word at the closing", false),
    ("dates", "Days and costs", true),
];

/// The account, each part ready to be shown.
struct Told {
    title: String,
    words: Vec<String>,
    machine: Vec<String>,
    numbers: Vec<String>,
    facts: Vec<String>,
    misled: Vec<String>,
    told: Vec<String>,
    ended: Vec<String>,
}

#[derive(Template)]
#[template(path = "help/account.md", escape = "none")]
struct AccountText {
    account: Told,
}

#[derive(Template)]
#[template(path = "help/account.html")]
struct AccountPage {
    case_href: String,
    label: String,
    action: String,
    parts: Vec<Choice>,
    text: String,
    file_href: String,
}

/// Which parts an address asks for.
struct Chosen(Vec<&'static str>);

impl Chosen {
    fn read(query: &BTreeMap<String, String>) -> Self {
        let asked = query.contains_key("chosen");
        let wanted = |(id, _, usual): &&(&str, &str, bool)| match asked {
            true => query.contains_key(*id),
            false => *usual,
        };
        Self(PARTS.iter().filter(wanted).map(|(id, ..)| *id).collect())
    }

    fn has(&self, id: &str) -> bool {
        self.0.contains(&id)
    }
}

/// `GET /cases/{id}/account`
pub async fn show(
    State(state): State<AppState>,
    case: OpenCase,
    Query(query): Query<BTreeMap<String, String>>,
) -> Page {
    let chosen = Chosen::read(&query);
    let text = text(&state, &case, &chosen).await?;
    let mut parameters = vec![("chosen", "yes".to_string())];
    parameters.extend(chosen.0.iter().map(|id| (*id, "yes".to_string())));
    let part = |(id, words, _): &(&str, &str, bool)| Choice {
        value: id.to_string(),
        label: words.to_string(),
        chosen: chosen.has(id),
    };
    let page = AccountPage {
        case_href: case.href(),
        label: show::case_label(case.row.number),
        action: case.below("account"),
        parts: PARTS.iter().map(part).collect(),
        file_href: urls::with(&case.below("account.md"), &parameters),
        text,
    };
    Ok(Html(page.render()?))
}

/// `GET /cases/{id}/account.md`
pub async fn file(
    State(state): State<AppState>,
    case: OpenCase,
    Query(query): Query<BTreeMap<String, String>>,
) -> Answer {
    let text = text(&state, &case, &Chosen::read(&query)).await?;
    let headers = [
        (header::CONTENT_TYPE, "text/markdown; charset=utf-8"),
        (
            header::CONTENT_DISPOSITION,
            "attachment; filename=\"account.md\"",
        ),
    ];
    Ok((headers, text).into_response())
}

async fn text(state: &AppState, case: &OpenCase, chosen: &Chosen) -> Result<String, PageError> {
    let k = &state.knowledge;
    let known = think(|| account(k, &case.log, &case.state)).await;
    let known = known.ok_or_else(|| PageError::Refused {
        message: "An account is written of a closed case: close it first.".into(),
        back: case.href(),
    })?;
    let account = told(k, case, &known, chosen);
    Ok(tidy(&AccountText { account }.render()?))
}

fn told(k: &Knowledge, case: &OpenCase, known: &Account, chosen: &Chosen) -> Told {
    let facts = &known.facts;
    let cause = known.cause.map(|c| k.cause(c).name.clone());
    let some = |wanted: bool, lines: Vec<String>| if wanted { lines } else { Vec::new() };
    let findings = facts.findings.iter();
    let seen = findings.filter(|(f, s)| !s.answer.is_denial(k, **f));
    let numbers = facts.settings.known().map(|(id, v)| {
        let n = id.number();
        format!("{}: {}", show::capital(n.plain), show::with_unit(v, n.unit))
    });
    Told {
        title: match (chosen.has("title"), &cause) {
            (true, _) => case.head().title,
            (false, Some(cause)) => cause.clone(),
            (false, None) => "A print gone wrong".into(),
        },
        words: some(chosen.has("words"), case.state.told.clone()),
        machine: machine(case, chosen.has("kind")),
        numbers: some(chosen.has("numbers"), numbers.collect()),
        facts: seen
            .map(|(f, s)| show::capital(&s.answer.phrase(k, *f)))
            .collect(),
        misled: misled(k, known),
        told: known.told.iter().map(|w| weighed(k, known, w)).collect(),
        ended: ended(k, case, known, chosen),
    }
}

/// How the machine is built; its name and place are never told.
fn machine(case: &OpenCase, kind: bool) -> Vec<String> {
    let context = &case.state.facts.context;
    let wanted = [
        FieldId::Material,
        FieldId::Feed,
        FieldId::HotEnd,
        FieldId::Motion,
        FieldId::Levelling,
    ];
    let built = wanted.iter().filter_map(|id| Some(context.get(*id)?.plain));
    let model = Some(case.machine.model.as_str()).filter(|m| kind && !m.is_empty());
    model.into_iter().chain(built).map(str::to_string).collect()
}

fn weighed(k: &Knowledge, known: &Account, w: &Weighed) -> String {
    let fact = evidence::source(k, &known.facts, &w.item.source);
    format!("{fact} ({} dB)", show::decibans(w.decibans))
}

/// Whom the signs seemed to speak for, what was tried in vain, what spoke against.
fn misled(k: &Knowledge, known: &Account) -> Vec<String> {
    let seemed = known.seemed.map(|(c, p)| {
        format!(
            "At first it looked like {} ({})",
            show::lower_first(&k.cause(c).name),
            show::percent(p)
        )
    });
    let vain = known.in_vain.iter().map(|t| {
        let name = outcome::tried_names(k, t);
        format!("Tried in vain: {}", show::lower_first(&name))
    });
    let against = known.misled.iter().map(|w| weighed(k, known, w));
    seemed.into_iter().chain(vain).chain(against).collect()
}

fn ended(k: &Knowledge, case: &OpenCase, known: &Account, chosen: &Chosen) -> Vec<String> {
    let Status::Resolved(end) = &case.state.status else {
        return Vec::new();
    };
    let mut lines = vec![show::capital(outcome::outcome(end.outcome))];
    let cause = end.cause.as_deref().map(|c| work::cause(k, c));
    lines.extend(cause.map(|c| format!("It was: {}", show::lower_first(&c))));
    let fix = end.fix.as_deref().map(|x| work::fix(k, x));
    lines.extend(fix.map(|x| format!("What did it: {}", show::lower_first(&x))));
    if end.outcome.mended() {
        lines.push(match known.held_days {
            Some(days) => format!("Held {} so far", show::days(days)),
            None => "Nobody was asked yet whether it held".into(),
        });
    }
    if chosen.has("dates") {
        let grams = show::grams(case.state.grams);
        let minutes = show::minutes(case.state.minutes);
        lines.push(format!(
            "Closed on {}; it took {minutes} and {grams}",
            show::date(end.at)
        ));
    }
    if chosen.has("note") && !end.note.is_empty() {
        lines.push(end.note.clone());
    }
    lines
}

/// A heading of the account with its lines.
fn part(name: &str, lines: &[String]) -> String {
    let lines = lines.iter().map(|line| format!("- {}\n", md(line)));
    match lines.collect::<String>() {
        none if none.is_empty() => none,
        some => format!("## {name}\n\n{some}"),
    }
}

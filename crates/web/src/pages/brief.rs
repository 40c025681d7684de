//! The help brief: all a helper asks for on one page, to print, to copy, to send as a file, or to open to someone elsewhere.

use super::next;
use super::pictures::{PictureCard, cards};
use super::recording::{line, result_words};
use super::{Opened, Page, opened};
use crate::form::Fields;
use crate::page_error::PageError;
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Path, State};
use axum::http::header;
use axum::response::{Html, IntoResponse, Redirect, Response};
use suspect_core::case::{Analysis, Entry, Event, What, active};
use suspect_core::evidence::window_for;
use suspect_core::knowledge::Section;
use suspect_core::planning::Action;
use suspect_core::profile::FIELDS;
use suspect_store::StoreError;

/// Suspects named with their reasons.
const SUSPECTS: usize = 5;
/// Reasons named for each.
const REASONS: usize = 4;

pub struct SuspectLine {
    pub name: String,
    pub share: String,
    pub reasons: Vec<String>,
}

/// The brief. Every text in it may come from a person: the templates escape it, for HTML and for Markdown.
pub struct Brief {
    pub label: String,
    pub title: String,
    pub machine: String,
    pub profile: Vec<String>,
    pub material: String,
    pub settings: Vec<String>,
    pub told: Vec<String>,
    pub seen: Vec<String>,
    pub behaviour: Vec<String>,
    pub pattern: Vec<String>,
    pub not_seen: Vec<String>,
    pub checks: Vec<String>,
    pub tried: Vec<String>,
    pub notes: Vec<String>,
    pub pictures: Vec<PictureCard>,
    pub line_up: Vec<SuspectLine>,
    pub unlisted: String,
    pub next: Vec<String>,
    pub stops: Vec<String>,
    pub made: String,
}

/// Gathers the brief of a case.
pub fn brief(state: &AppState, case: &Opened, analysis: &Analysis) -> Brief {
    let k = &state.knowledge;
    let facts = &case.state.facts;
    let phrases = |section: Section, absent: bool| -> Vec<String> {
        let of_section = facts
            .findings
            .iter()
            .filter(|(f, _)| k.finding(**f).section == section);
        let wanted =
            of_section.filter(|(f, s)| ["absent", "none"].contains(&s.answer.id(k, **f)) == absent);
        wanted
            .map(|(f, s)| {
                let words = show::capital(&s.answer.phrase(k, *f));
                if s.confidence.id() == "sure" {
                    words
                } else {
                    format!("{words} ({})", s.confidence.id())
                }
            })
            .collect()
    };
    let setting = |(n, v): (&suspect_core::settings::Number, f64)| {
        let window =
            window_for(k, &facts.context, n.id).filter(|(low, high)| v < *low || v > *high);
        let outside = window.map(|(low, high)| {
            format!(
                ", outside {} to {} {}",
                show::number(low),
                show::number(high),
                n.unit
            )
        });
        let value = format!(
            "{}: {}\u{a0}{}",
            show::capital(n.plain),
            show::number(v),
            n.unit
        );
        format!(
            "{}{}",
            value.trim_end_matches('\u{a0}'),
            outside.unwrap_or_default()
        )
    };
    let suspect = |l: &suspect_core::ranking::CauseLine| {
        let items = analysis.line_up.evidence.items.iter().zip(&l.ledger);
        let mut reasons: Vec<(f64, String)> = items
            .map(|(item, d)| (*d, super::ledger::row_text(state, &item.source)))
            .filter(|(d, _)| d.abs() >= 1.0)
            .collect();
        reasons.sort_by(|a, b| b.0.abs().total_cmp(&a.0.abs()));
        SuspectLine {
            name: k.cause(l.cause).name.clone(),
            share: show::percent(l.probability),
            reasons: reasons
                .into_iter()
                .take(REASONS)
                .map(|(d, text)| format!("{text}: {} dB", show::decibans(d)))
                .collect(),
        }
    };
    let counts = active(&case.log);
    let entries = || {
        case.log
            .iter()
            .zip(&counts)
            .filter(|(_, counts)| **counts)
            .map(|(e, _)| e)
    };
    let lines = |wanted: fn(&Event) -> bool| -> Vec<String> {
        entries()
            .filter(|e: &&Entry| wanted(&e.event))
            .map(|e| line(state, e))
            .collect()
    };
    let unknown = FIELDS
        .iter()
        .filter(|f| facts.context.id(f.id).is_none() && f.id != "material");
    let missing: Vec<String> = unknown.map(|f| show::lower_first(f.plain)).collect();
    let mut profile: Vec<String> = facts
        .context
        .known()
        .filter(|(f, _)| f.id != "material")
        .map(|(f, v)| format!("{}: {}", f.plain, v.plain))
        .collect();
    if !missing.is_empty() {
        profile.push(format!("Not known: {}", missing.join(", ")));
    }
    let material = facts
        .context
        .get("material")
        .map_or("material not known", |m| m.plain);
    Brief {
        label: show::case_label(case.row.number),
        title: case.state.title.clone(),
        machine: case.machine.name.clone(),
        profile,
        material: if case.state.spool.is_empty() {
            material.to_string()
        } else {
            format!("{material}, {}", case.state.spool)
        },
        settings: facts.settings.known().map(setting).collect(),
        told: case.state.told.clone(),
        seen: phrases(Section::Print, false),
        behaviour: phrases(Section::Machine, false),
        pattern: phrases(Section::History, false),
        not_seen: [
            phrases(Section::Print, true),
            phrases(Section::Machine, true),
        ]
        .concat(),
        checks: lines(|e| matches!(e, Event::Checked { .. })),
        tried: facts
            .tried
            .iter()
            .map(|t| format!("{}: {}", k.fix(t.fix).work.name, result_words(t.result)))
            .collect(),
        notes: lines(|e| matches!(e, Event::Noted { .. })),
        pictures: cards(case),
        line_up: analysis
            .line_up
            .causes
            .iter()
            .filter(|l| l.probability > 0.0)
            .take(SUSPECTS)
            .map(suspect)
            .collect(),
        unlisted: show::percent(analysis.line_up.unlisted),
        next: next_steps(state, case, analysis),
        stops: next::held(state, case)
            .into_iter()
            .map(|h| h.words)
            .collect(),
        made: show::moment_in_zone(state.now()),
    }
}

/// What to do next; while nothing holds the machine with the second best beside it.
fn next_steps(state: &AppState, case: &Opened, analysis: &Analysis) -> Vec<String> {
    let k = &state.knowledge;
    let now = next::words(state, case.id, case.machine.id, &analysis.next.what).name;
    let figures = |s: &suspect_core::planning::Step| match s.action {
        Action::Fix(_) => format!(
            "{} ({}, cures it with {})",
            s.action.name(k),
            show::minutes(s.minutes),
            show::percent(s.cures)
        ),
        _ => format!("{} ({})", s.action.name(k), show::minutes(s.minutes)),
    };
    match &analysis.next.what {
        What::Check(_) | What::Fix(_) => analysis
            .plan
            .steps
            .iter()
            .filter(|s| s.action != Action::GiveUp)
            .take(2)
            .map(figures)
            .collect(),
        What::Locked(_) => vec![format!(
            "{now}. Nothing is done on it until that stop is lifted"
        )],
        What::ClearStop(_) => vec![format!("The machine is locked. {now}")],
        _ => vec![now],
    }
}

#[derive(Template)]
#[template(path = "brief.md", escape = "none")]
struct BriefText<'a> {
    brief: &'a Brief,
}

/// Markdown that shows a text as it is: every mark with a meaning of its own is escaped, line ends become blanks.
pub fn md(text: &str) -> String {
    let mut out = String::with_capacity(text.len());
    for c in text.chars() {
        match c {
            '\n' | '\r' => out.push(' '),
            '<' => out.push_str("&lt;"),
            '>' => out.push_str("&gt;"),
            '&' => out.push_str("&amp;"),
            '\\' | '`' | '*' | '_' | '[' | ']' | '#' | '|' | '!' | '~' => {
                out.push('\\');
                out.push(c);
            }
            c => out.push(c),
        }
    }
    out
}

fn markdown(brief: &Brief) -> Result<String, PageError> {
    let text = BriefText { brief }.render()?;
    // Parts without content leave blank lines behind.
    let mut out = String::new();
    for line in text.lines() {
        if !(line.is_empty() && (out.is_empty() || out.ends_with("\n\n"))) {
            out.push_str(line);
            out.push('\n');
        }
    }
    Ok(out)
}

struct LinkRow {
    token: String,
    href: String,
    made: String,
}

#[derive(Template)]
#[template(path = "brief_page.html")]
struct BriefPage {
    place: &'static str,
    case_href: String,
    brief: Brief,
    text: String,
    file_href: String,
    links: Vec<LinkRow>,
    link_action: String,
    revoke_action: String,
}

/// `GET /cases/{id}/brief`
pub async fn show(State(state): State<AppState>, Path(id): Path<String>) -> Page {
    let case = opened(&state, &id).await?;
    let analysis = case.analysis(&state).await;
    let brief = brief(&state, &case, &analysis);
    let links = state.store.help_links(case.id).await?;
    let page = BriefPage {
        place: "case",
        case_href: urls::case(case.id),
        text: markdown(&brief)?,
        brief,
        file_href: urls::in_case(case.id, "brief.md"),
        links: links
            .into_iter()
            .map(|l| LinkRow {
                href: urls::help(&l.token),
                token: l.token,
                made: match &l.by {
                    Some(by) => format!("{} by {by}", show::date(l.made_at)),
                    None => show::date(l.made_at),
                },
            })
            .collect(),
        link_action: urls::in_case(case.id, "links"),
        revoke_action: urls::in_case(case.id, "links/revoke"),
    };
    Ok(Html(page.render()?))
}

/// `GET /cases/{id}/brief.md`
pub async fn file(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<Response, PageError> {
    let case = opened(&state, &id).await?;
    let analysis = case.analysis(&state).await;
    let text = markdown(&brief(&state, &case, &analysis))?;
    let name = format!(
        "attachment; filename=\"{}-brief.md\"",
        show::case_label(case.row.number)
    );
    Ok((
        [
            (
                header::CONTENT_TYPE,
                "text/markdown; charset=utf-8".to_string(),
            ),
            (header::CONTENT_DISPOSITION, name),
        ],
        text,
    )
        .into_response())
}

/// `POST /cases/{id}/links`: opens the case to whoever has the link.
pub async fn make_link(
    State(state): State<AppState>,
    Path(id): Path<String>,
    fields: Fields,
) -> Result<Response, PageError> {
    let case = opened(&state, &id).await?;
    let back = format!("{}#links", urls::in_case(case.id, "brief"));
    let made = state
        .store
        .make_help_link(case.id, fields.stamp(state.now()))
        .await;
    made.map_err(|e| match e {
        StoreError::Refused(refusal) => PageError::refused(&refusal, back.clone()),
        other => other.into(),
    })?;
    Ok(Redirect::to(&back).into_response())
}

/// `POST /cases/{id}/links/revoke`
pub async fn revoke_link(
    State(state): State<AppState>,
    Path(id): Path<String>,
    fields: Fields,
) -> Result<Response, PageError> {
    let case = opened(&state, &id).await?;
    state
        .store
        .revoke_help_link(case.id, fields.get("token"), state.now())
        .await
        .map_err(|e| match e {
            StoreError::NotFound => PageError::NotFound("link"),
            other => other.into(),
        })?;
    Ok(Redirect::to(&format!("{}#links", urls::in_case(case.id, "brief"))).into_response())
}

#[cfg(test)]
mod tests {
    use super::md;

    #[test]
    fn markup_in_a_text_stays_a_text() {
        assert_eq!(
            md("<script>alert(1)</script>"),
            "&lt;script&gt;alert(1)&lt;/script&gt;"
        );
        assert_eq!(md("[x](http://e)\n# *b*"), "\\[x\\](http://e) \\# \\*b\\*");
    }
}

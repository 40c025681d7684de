//! The log that a row of the table tells: as much as it says, and no more.

use super::table::{Row, RowFault};
use crate::case::{Entry, Event, HeldAnswer, Lost, Outcome, Struck};
use crate::evidence::Confidence;
use crate::knowledge::{Knowledge, TryResult};
use crate::nearest::{hint, short};
use crate::own::own_name;
use crate::settings::NumberId;
use std::collections::BTreeMap;
use time::format_description::well_known::Rfc3339;
use time::macros::format_description;
use time::{Date, OffsetDateTime};

fn fault<T>(column: &'static str, problem: impl Into<String>) -> Result<T, RowFault> {
    let problem = problem.into();
    Err(RowFault { column, problem })
}

/// The entries of a case as its row tells them. `profile` is how its machine is built.
///
/// # Errors
/// The first column that makes no sense, what was found and what would do.
pub fn entries(
    knowledge: &Knowledge,
    row: &Row,
    profile: &BTreeMap<String, String>,
) -> Result<Vec<Entry>, RowFault> {
    let opened = moment("opened", &row.opened)?;
    let Some(opened) = opened else {
        return fault("opened", "the moment it was opened is missing");
    };
    let closed = moment("closed", &row.closed)?;
    let mut log = Log::default();
    log.push(
        opened,
        Event::Opened {
            title: row.title.clone(),
            machine_name: row.machine.clone(),
            machine: profile.clone(),
            material: Some(row.material.clone()).filter(|m| !m.is_empty()),
            spool: row.spool.clone(),
        },
    );
    facts(knowledge, row, opened, &mut log)?;
    match closed {
        Some(closed) => ended(knowledge, row, closed, &mut log)?,
        None if !row.outcome.is_empty() => {
            return fault(
                "closed",
                "a case with an outcome needs the moment it was closed",
            );
        }
        None => {}
    }
    Ok(log.0)
}

/// Entries in their order.
#[derive(Default)]
struct Log(Vec<Entry>);

impl Log {
    fn push(&mut self, at: OffsetDateTime, event: Event) {
        let seq = self.0.len() as u32 + 1;
        self.0.push(Entry {
            seq,
            at,
            by: None,
            event,
        });
    }
}

/// What was known of it.
fn facts(
    knowledge: &Knowledge,
    row: &Row,
    at: OffsetDateTime,
    log: &mut Log,
) -> Result<(), RowFault> {
    if !row.told.trim().is_empty() {
        let text = row.told.clone();
        log.push(at, Event::Told { text });
    }
    for (name, value) in pairs("settings", &row.settings)? {
        let Some(number) = NumberId::from_id(name) else {
            let known = NumberId::ALL.iter().map(|id| id.id());
            let near = hint(name, known);
            return fault(
                "settings",
                format!("`{}` is no number known here{near}", short(name)),
            );
        };
        let value = amount("settings", value)?.unwrap_or(0.0);
        let number = number.to_string();
        let note = None;
        log.push(
            at,
            Event::Measured {
                number,
                value,
                note,
            },
        );
    }
    for (column, told) in [("signs", &row.signs), ("checks", &row.checks)] {
        for (finding, state) in pairs(column, told)? {
            known_answer(knowledge, column, finding, state)?;
            log.push(
                at,
                Event::Observed {
                    finding: finding.into(),
                    state: state.into(),
                    confidence: Confidence::Sure,
                    asked: false,
                },
            );
        }
    }
    let lost = Lost {
        hours: amount("lost_hours", &row.lost_hours)?,
        grams: amount("lost_grams", &row.lost_grams)?,
        first_layer: row.first_layer.trim() == "yes",
    };
    if lost.says_anything() {
        log.push(at, Event::Lost(lost));
    }
    Ok(())
}

/// What was done, and how it ended.
fn ended(
    knowledge: &Knowledge,
    row: &Row,
    at: OffsetDateTime,
    log: &mut Log,
) -> Result<(), RowFault> {
    let outcome = match row.outcome.trim() {
        "" => return fault("outcome", "a closed case needs its outcome"),
        given => Outcome::from_id(given),
    };
    let Some(outcome) = outcome else {
        let known = Outcome::ALL.iter().map(|o| o.id());
        let near = hint(row.outcome.trim(), known);
        return fault(
            "outcome",
            format!("`{}` is no outcome{near}", short(&row.outcome)),
        );
    };
    let proven = row.proven.trim() == "yes";
    if outcome == Outcome::FixedAndVerified && !proven {
        let would_do = "a fixed and verified case needs its proof: `yes` in this column, or the \
                        outcome `believed-fixed`";
        return fault("proven", would_do);
    }
    let causes = knowledge.causes.iter().map(|c| c.id.as_str());
    let cause = known("cause", row.cause.trim(), causes)?;
    let fixes = knowledge.fixes.iter().map(|x| x.id.as_str());
    let fix = known("fix", row.fix.trim(), fixes)?;
    tries(knowledge, row, fix.as_deref(), at, log)?;
    applied(knowledge, row, fix.as_deref(), (outcome, at), log)?;
    let note = row.note.clone();
    log.push(
        at,
        Event::Resolved {
            outcome,
            cause,
            fix,
            note,
        },
    );
    if let Some(held) = moment("held", &row.held)? {
        if held < at {
            return fault(
                "held",
                "the fix cannot have held before the case was closed",
            );
        }
        let answer = HeldAnswer::Held;
        log.push(held, Event::AskedAgain { answer });
    }
    Ok(())
}

/// Fixes tried in vain. The one that ended the case stands with its proof.
fn tries(
    knowledge: &Knowledge,
    row: &Row,
    ended_by: Option<&str>,
    at: OffsetDateTime,
    log: &mut Log,
) -> Result<(), RowFault> {
    for (fix, result) in pairs("tried", &row.tried)? {
        known("tried", fix, knowledge.fixes.iter().map(|x| x.id.as_str()))?;
        let Ok(result) = result.parse::<TryResult>() else {
            let would_do = "cured, better, same or worse would do";
            return fault(
                "tried",
                format!("`{}` is no result: {would_do}", short(result)),
            );
        };
        let last = Some(fix) == ended_by && matches!(result, TryResult::Cured | TryResult::Better);
        if !last {
            let fix = fix.to_string();
            log.push(at, Event::Tried { fix, result });
        }
    }
    Ok(())
}

/// The fix that ended it, with its minutes and its proof.
fn applied(
    knowledge: &Knowledge,
    row: &Row,
    fix: Option<&str>,
    (outcome, at): (Outcome, OffsetDateTime),
    log: &mut Log,
) -> Result<(), RowFault> {
    let minutes = amount("minutes", &row.minutes)?.unwrap_or(0.0);
    let money = amount("money", &row.money)?.unwrap_or(0.0);
    let grams = amount("grams", &row.grams)?.unwrap_or(0.0);
    let result = match outcome {
        Outcome::FixedAndVerified => TryResult::Cured,
        Outcome::Improved => TryResult::Better,
        _ => TryResult::Same,
    };
    let known = fix.filter(|id| knowledge.fix_id(id).is_some());
    let ends = matches!(outcome, Outcome::FixedAndVerified | Outcome::Improved);
    if outcome == Outcome::FixedAndVerified {
        log.push(at, Event::Struck(Struck::always()));
    }
    match known {
        Some(fix) if outcome.mended() => {
            let (fix, before, after) = (fix.to_string(), None, None);
            let applied = Event::Fixed {
                fix,
                minutes,
                money,
                before,
                after,
                together: false,
            };
            log.push(at, applied);
            if ends {
                log.push(at, proof(result, grams));
            }
        }
        _ if minutes + money + grams > 0.0 || ends => {
            let name = fix.and_then(own_name).unwrap_or("what the table says");
            let applied = Event::OwnFixed {
                name: name.into(),
                aimed_at: None,
                result,
                minutes,
                money,
                grams,
            };
            log.push(at, applied);
        }
        _ => {}
    }
    Ok(())
}

/// The print that proved it; its minutes stand with the fix.
fn proof(result: TryResult, grams: f64) -> Event {
    Event::Printed {
        result,
        minutes: 0.0,
        grams,
        hours: None,
    }
}

/// A moment, or a day at noon.
fn moment(column: &'static str, text: &str) -> Result<Option<OffsetDateTime>, RowFault> {
    let text = text.trim();
    if text.is_empty() {
        return Ok(None);
    }
    let day = || {
        let day = Date::parse(text, format_description!("[year]-[month]-[day]")).ok()?;
        Some(day.with_hms(12, 0, 0).ok()?.assume_utc())
    };
    let at = OffsetDateTime::parse(text, &Rfc3339).ok().or_else(day);
    match at {
        Some(at) => Ok(Some(at)),
        None => fault(
            column,
            format!(
                "`{}` is no moment: 2026-11-27 or 2026-11-27T09:30:00Z would do",
                short(text)
            ),
        ),
    }
}

fn amount(column: &'static str, text: &str) -> Result<Option<f64>, RowFault> {
    let text = text.trim();
    if text.is_empty() {
        return Ok(None);
    }
    match text.parse::<f64>() {
        Ok(value) if value.is_finite() && value.abs() <= 1e9 => Ok(Some(value)),
        _ => fault(column, format!("`{}` is no number", short(text))),
    }
}

/// "a=b;c=d".
fn pairs<'a>(column: &'static str, text: &'a str) -> Result<Vec<(&'a str, &'a str)>, RowFault> {
    let parts = text.split(';').map(str::trim).filter(|p| !p.is_empty());
    parts
        .map(|part| match part.split_once('=') {
            Some((name, value)) => Ok((name.trim(), value.trim())),
            None => fault(column, format!("`{}` has no `=`", short(part))),
        })
        .collect()
}

/// An identifier of the knowledge, or one of the workshop's own.
fn known<'a>(
    column: &'static str,
    id: &str,
    all: impl Iterator<Item = &'a str> + Clone,
) -> Result<Option<String>, RowFault> {
    if id.is_empty() {
        return Ok(None);
    }
    if own_name(id).is_some() || all.clone().any(|known| known == id) {
        return Ok(Some(id.to_string()));
    }
    let near = hint(id, all);
    fault(column, format!("`{}` is not known here{near}", short(id)))
}

fn known_answer(
    knowledge: &Knowledge,
    column: &'static str,
    finding: &str,
    state: &str,
) -> Result<(), RowFault> {
    let Some(f) = knowledge.finding_id(finding) else {
        let near = hint(finding, knowledge.findings.iter().map(|f| f.id.as_str()));
        return fault(column, format!("`{}` is no finding{near}", short(finding)));
    };
    match crate::evidence::answer(knowledge, f, state) {
        Ok(_) => Ok(()),
        Err(e) => fault(column, format!("{finding}: {e}")),
    }
}

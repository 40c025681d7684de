//! From the log to what the case is now.

use super::event::{Aside, Entry, Event, Outcome};
use crate::evidence::{self, Facts, Sighting, Tried};
use crate::knowledge::{CheckId, FindingId, FixId, Knowledge, TryResult};
use crate::measures::{self, Readings};
use crate::picture::{Judgement, Mark};
use crate::planning::Present;
use crate::profile::{Context, FIELDS};
use crate::safety::{self, Fact};
use crate::settings::position;
use std::collections::{BTreeMap, BTreeSet};
use time::OffsetDateTime;

/// How a case ended, with what it was.
#[derive(Debug, Clone, PartialEq)]
pub struct Resolution {
    /// How it ended.
    pub outcome: Outcome,
    /// The cause it was, by identifier.
    pub cause: Option<String>,
    /// The fix that did it, by identifier.
    pub fix: Option<String>,
    /// A word for the next person.
    pub note: String,
    /// When.
    pub at: OffsetDateTime,
}

/// Where a case stands.
#[derive(Debug, Clone, PartialEq, Default)]
pub enum Status {
    /// Looking for the cause.
    #[default]
    Open,
    /// A fix was applied; its proof by printing is due.
    Verifying(FixId),
    /// The proof was good; the case can be closed.
    Cured(Option<FixId>),
    /// Closed.
    Resolved(Resolution),
}

/// A picture of the case.
#[derive(Debug, Clone, PartialEq)]
pub struct Picture {
    /// Identifier of its bytes.
    pub id: String,
    /// Name of the file as it came.
    pub name: String,
    /// How good it is.
    pub judgement: Judgement,
    /// Marks on it.
    pub marks: Vec<Mark>,
    /// Sequence number of the event that brought it.
    pub seq: u32,
}

/// Something somebody suggested: hearsay until somebody here takes it up or lays it aside.
#[derive(Debug, Clone, PartialEq)]
pub struct Suggestion {
    /// Sequence number of the event that brought it.
    pub seq: u32,
    /// Who.
    pub by: String,
    /// A suspect to think of, by identifier.
    pub cause: Option<String>,
    /// A check to do, by identifier.
    pub check: Option<String>,
    /// In words.
    pub text: String,
    /// `None` while it is hearsay; then whether it was taken up.
    pub taken: Option<bool>,
}

/// A wait that was started.
#[derive(Debug, Clone, PartialEq)]
pub struct Timer {
    /// The work it belongs to: `check/cold-pull`.
    pub work: String,
    /// Which step of it, from 1.
    pub step: u32,
    /// When it was started.
    pub from: OffsetDateTime,
    /// When it ends.
    pub until: OffsetDateTime,
}

/// A value that a fix changed.
#[derive(Debug, Clone, PartialEq)]
pub struct Change {
    /// Sequence number of the fix.
    pub seq: u32,
    /// The fix.
    pub fix: FixId,
    /// The value before.
    pub before: String,
    /// The value since, when it was told.
    pub after: Option<String>,
    /// Whether it was put back since.
    pub put_back: bool,
}

/// What locks a machine from outside a case.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Holder {
    /// A stop of another case.
    Case {
        /// Identifier of that case.
        id: String,
        /// Its running number.
        number: i64,
    },
    /// How the machine is built.
    Build,
}

/// The machine is locked, and not by this case.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Lock {
    /// What holds it.
    pub holder: Holder,
    /// The stop that holds, by place in the knowledge.
    pub stop: usize,
}

/// A case as it is now.
#[derive(Debug, Clone, Default)]
pub struct CaseState {
    /// What the trouble is called.
    pub title: String,
    /// The machine's name when the case was opened.
    pub machine_name: String,
    /// The spool in words.
    pub spool: String,
    /// What is known.
    pub facts: Facts,
    /// Sequence number of the event behind each finding's value.
    pub source: BTreeMap<FindingId, u32>,
    /// Earlier values a later answer replaced: finding, identifier of the old state.
    pub replaced: Vec<(FindingId, String)>,
    /// What happened, in people's own words, each as it was told.
    pub told: Vec<String>,
    /// Findings passed over or answered with "I cannot tell": not asked again, no evidence.
    pub passed: BTreeSet<FindingId>,
    /// Notes on numbers that were converted when they were read, by number.
    pub converted: BTreeMap<String, String>,
    /// Pictures, in the order they came.
    pub pictures: Vec<Picture>,
    /// What others suggested, in the order it came.
    pub suggestions: Vec<Suggestion>,
    /// Where the case stands.
    pub status: Status,
    /// Minutes spent.
    pub minutes: f64,
    /// Grams of filament used.
    pub grams: f64,
    /// Money spent.
    pub money: f64,
    /// Stops that hold, by place in the knowledge.
    pub stops: Vec<usize>,
    /// What else locks the machine. Not of this log: whoever knows machine and other cases puts it in.
    pub locked_by: Option<Lock>,
    /// Waits that were started in work not yet recorded.
    pub timers: Vec<Timer>,
    /// Parts that came off and are not back: the work, the part.
    pub parts_out: Vec<(String, String)>,
    /// Steps not done now, `check/…` or `fix/…`, with the reason.
    pub set_aside: BTreeMap<String, Aside>,
    /// Outcomes read as numbers, by finding: what was read.
    pub readings: BTreeMap<FindingId, Readings>,
    /// Values that fixes changed, in their order.
    pub changes: Vec<Change>,
    /// Left for another day, with a word for whoever goes on.
    pub resting: Option<String>,
    /// State the machine was left in by the last step.
    pub present: Present,
    /// When the case was opened.
    pub opened_at: Option<OffsetDateTime>,
    /// When anything last happened.
    pub updated_at: Option<OffsetDateTime>,
    /// Sequence number of the last event.
    pub last_seq: u32,
    /// Since when each stop that holds does: sequence number and moment of the entry that raised it.
    pub stops_since: BTreeMap<usize, (u32, OffsetDateTime)>,
    /// Entries that were taken back and do not count.
    pub taken_back: BTreeSet<u32>,
    /// Identifiers the present knowledge does not know; kept in the log, counted for nothing.
    pub unknown: Vec<String>,
    /// Sequence number of the entry that last stated each number and field of the profile.
    stated: BTreeMap<Fact, u32>,
    /// Sequence number of the latest lifting of each stop.
    lifted: BTreeMap<usize, u32>,
}

/// Which entries count: those no counting retraction names. A retraction can itself be retracted.
pub fn active(log: &[Entry]) -> Vec<bool> {
    let mut active = vec![true; log.len()];
    for i in (0..log.len()).rev() {
        if let (true, Event::Retracted { seq }) = (active[i], &log[i].event)
            && let Ok(target) = log[..i].binary_search_by_key(seq, |e| e.seq)
        {
            active[target] = false;
        }
    }
    active
}

/// Replays a log, whose entries stand in the order of their numbers. Never fails: what the
/// knowledge no longer knows is listed in [`CaseState::unknown`].
pub fn replay(knowledge: &Knowledge, log: &[Entry]) -> CaseState {
    let mut case = CaseState::default();
    for (entry, counts) in log.iter().zip(active(log)) {
        if counts {
            case.apply(knowledge, entry);
            case.settle_stops(knowledge, entry);
        } else {
            case.taken_back.insert(entry.seq);
        }
    }
    if let Some(last) = log.last() {
        case.last_seq = last.seq;
        case.updated_at = Some(last.at);
    }
    case.read_gauges(knowledge);
    case
}

/// The state after one entry more, the last of `log`; `before` is the state without it. The same
/// as replaying the whole, at the price of one entry: only a retraction takes a replay.
pub fn advance(knowledge: &Knowledge, before: &CaseState, log: &[Entry]) -> CaseState {
    let mut case = match log.last() {
        Some(Entry {
            event: Event::Retracted { .. },
            ..
        }) => replay(knowledge, log),
        Some(entry) => {
            let mut case = before.clone();
            case.apply(knowledge, entry);
            case.settle_stops(knowledge, entry);
            case.last_seq = entry.seq;
            case.updated_at = Some(entry.at);
            case.read_gauges(knowledge);
            case
        }
        None => before.clone(),
    };
    case.locked_by = before.locked_by.clone();
    case
}

impl CaseState {
    fn apply(&mut self, knowledge: &Knowledge, entry: &Entry) {
        match &entry.event {
            Event::Opened {
                title,
                machine_name,
                machine,
                material,
                spool,
            } => {
                self.title = title.clone();
                self.machine_name = machine_name.clone();
                self.spool = spool.clone();
                self.opened_at = Some(entry.at);
                self.set_context(entry.seq, machine, material.as_deref());
            }
            Event::Measured {
                number,
                value,
                note,
            } => {
                if let Ok(at) = position(number) {
                    self.stated.insert(Fact::Number(at), entry.seq);
                }
                match note {
                    Some(note) => self.converted.insert(number.clone(), note.clone()),
                    None => self.converted.remove(number),
                };
                if self.facts.settings.set(number, *value).is_err() {
                    self.unknown.push(number.clone());
                }
            }
            Event::Told { text } => self.told.push(text.clone()),
            Event::Passed { finding } => match knowledge.finding_id(finding) {
                Some(id) => {
                    self.passed.insert(id);
                }
                None => self.unknown.push(finding.clone()),
            },
            Event::Described {
                title,
                material,
                spool,
                machine,
            } => {
                self.title = title.clone();
                self.spool = spool.clone();
                self.set_context(entry.seq, machine, material.as_deref());
            }
            Event::Pictured {
                picture,
                name,
                judgement,
            } => self.pictures.push(Picture {
                id: picture.clone(),
                name: name.clone(),
                judgement: *judgement,
                marks: Vec::new(),
                seq: entry.seq,
            }),
            Event::Marked { picture, marks } => {
                if let Some(there) = self.pictures.iter_mut().find(|p| p.id == *picture) {
                    there.marks = marks.clone();
                }
            }
            Event::Suggested {
                by,
                cause,
                check,
                text,
            } => self.suggestions.push(Suggestion {
                seq: entry.seq,
                by: by.clone(),
                cause: cause.clone(),
                check: check.clone(),
                text: text.clone(),
                taken: None,
            }),
            Event::Weighed { suggestion, taken } => {
                if let Some(there) = self.suggestions.iter_mut().find(|s| s.seq == *suggestion) {
                    there.taken = Some(*taken);
                }
            }
            Event::Observed {
                finding,
                state,
                confidence,
            } => self.answer(knowledge, entry.seq, finding, state, *confidence),
            Event::Checked {
                check,
                outcome,
                confidence,
                minutes,
            } => {
                self.minutes += minutes;
                self.over(&format!("check/{check}"));
                self.answer(knowledge, entry.seq, check, outcome, *confidence);
                if let Some(id) = knowledge.check_id(check) {
                    let check = knowledge.check(id);
                    self.present = self.present.after(&check.work);
                    self.grams += check.work.grams;
                    let finding = knowledge.finding(check.finding);
                    if finding
                        .state(outcome)
                        .is_some_and(|s| check.ends_case.contains(&s))
                    {
                        self.status = Status::Cured(finding.also_fix);
                    }
                }
            }
            Event::Gauged {
                check,
                readings,
                minutes,
                ..
            } => {
                self.minutes += minutes;
                match knowledge.check_id(check) {
                    Some(id) => self.gauged(knowledge, entry.seq, id, readings),
                    None => self.unknown.push(check.clone()),
                }
                self.over(&format!("check/{check}"));
            }
            Event::TimerSet {
                work,
                step,
                minutes,
            } => {
                self.resting = None;
                self.timers.retain(|t| t.work != *work || t.step != *step);
                let until = entry.at + time::Duration::seconds_f64(minutes * 60.0);
                self.timers.push(Timer {
                    work: work.clone(),
                    step: *step,
                    from: entry.at,
                    until,
                });
            }
            Event::PartKept { work, part, back } => {
                let kept = (work.clone(), part.clone());
                self.parts_out.retain(|p| *p != kept);
                if !back {
                    self.parts_out.push(kept);
                }
            }
            Event::SetAside { step, why, minutes } => {
                self.minutes += minutes;
                self.over(step);
                self.set_aside.insert(step.clone(), *why);
            }
            Event::TakenUp { step } => {
                self.set_aside.remove(step);
            }
            Event::PutBack { fixed } => {
                if let Some(change) = self.changes.iter_mut().find(|c| c.seq == *fixed) {
                    change.put_back = true;
                }
            }
            Event::LeftForLater { note } => self.resting = Some(note.clone()),
            Event::Tried { fix, result } => self.tried(knowledge, fix, *result),
            Event::Fixed {
                fix,
                minutes,
                money,
                before,
                after,
            } => {
                self.minutes += minutes;
                self.money += money;
                self.over(&format!("fix/{fix}"));
                if let (Some(id), Some(before)) = (knowledge.fix_id(fix), before) {
                    let (before, after) = (before.clone(), after.clone());
                    self.changes.push(Change {
                        seq: entry.seq,
                        fix: id,
                        before,
                        after,
                        put_back: false,
                    });
                }
                match knowledge.fix_id(fix) {
                    Some(id) => {
                        self.present = self.present.after(&knowledge.fix(id).work);
                        self.status = Status::Verifying(id);
                    }
                    None => self.unknown.push(fix.clone()),
                }
            }
            Event::Printed {
                result,
                minutes,
                grams,
            } => {
                self.minutes += minutes;
                self.grams += grams;
                self.present = Present::PRINTED;
                self.over("verify");
                if let Status::Verifying(fix) = self.status {
                    self.facts.tried.push(Tried {
                        fix,
                        aimed_at: None,
                        result: *result,
                    });
                    self.status = if *result == TryResult::Cured {
                        Status::Cured(Some(fix))
                    } else {
                        Status::Open
                    };
                }
            }
            Event::Cleared { cause, confidence } => match knowledge.cause_id(cause) {
                Some(id) => {
                    self.facts.cleared.retain(|(c, _)| *c != id);
                    self.facts.cleared.push((id, *confidence));
                }
                None => self.unknown.push(cause.clone()),
            },
            Event::Noted { .. } | Event::Retracted { .. } => {}
            Event::StopCleared { stop, .. } => {
                match knowledge.stops.iter().position(|s| s.id == *stop) {
                    Some(at) => {
                        self.lifted.insert(at, entry.seq);
                    }
                    None => self.unknown.push(stop.clone()),
                }
            }
            Event::Moved {
                machine_name,
                profile,
                ..
            } => {
                self.machine_name = machine_name.clone();
                let material = self.facts.context.id("material");
                self.facts.context = Context::default();
                self.set_context(entry.seq, profile, material);
            }
            Event::Resolved {
                outcome,
                cause,
                fix,
                note,
            } => {
                self.status = Status::Resolved(Resolution {
                    outcome: *outcome,
                    cause: cause.clone(),
                    fix: fix.clone(),
                    note: note.clone(),
                    at: entry.at,
                });
            }
            Event::Reopened { .. } => self.status = Status::Open,
        }
    }

    /// Work that is recorded has no timers any more, is no longer set aside, and the case is on again.
    fn over(&mut self, work: &str) {
        self.timers.retain(|t| t.work != work);
        self.set_aside.remove(work);
        self.resting = None;
    }

    fn gauged(&mut self, knowledge: &Knowledge, seq: u32, id: CheckId, readings: &Readings) {
        let check = knowledge.check(id);
        self.forget(knowledge, check.finding);
        self.source.insert(check.finding, seq);
        self.readings.insert(check.finding, readings.clone());
        self.passed.remove(&check.finding);
        self.present = self.present.after(&check.work);
        self.grams += check.work.grams;
    }

    /// Readings become answers when everything else of the case is known: what they mean may depend on it.
    fn read_gauges(&mut self, knowledge: &Knowledge) {
        for (finding, readings) in &self.readings {
            let gauge = measures::gauge(&knowledge.finding(*finding).id);
            match gauge.and_then(|g| g.answer(knowledge, &self.facts, *finding, readings)) {
                Some(answer) => {
                    self.facts.findings.insert(
                        *finding,
                        Sighting {
                            answer,
                            confidence: evidence::Confidence::Sure,
                        },
                    );
                }
                None => self
                    .unknown
                    .push(format!("readings of {}", knowledge.finding(*finding).id)),
            }
        }
    }

    /// The value a finding had makes room for another.
    fn forget(&mut self, knowledge: &Knowledge, id: FindingId) {
        if let Some(old) = self.facts.findings.remove(&id) {
            self.replaced
                .push((id, old.answer.id(knowledge, id).to_string()));
        }
        if self.readings.remove(&id).is_some() {
            self.replaced.push((id, "a reading".to_string()));
        }
    }

    /// Sets fields of the profile and the material. A field is stated anew when its value changes:
    /// a form that sends what was known before says nothing about it.
    fn set_context(
        &mut self,
        seq: u32,
        machine: &BTreeMap<String, String>,
        material: Option<&str>,
    ) {
        let material = material.map(|m| ("material", m));
        let said = machine.iter().map(|(f, v)| (f.as_str(), v.as_str()));
        for (field, value) in said.chain(material) {
            let known = self.facts.context.id(field);
            match self.facts.context.set(field, value) {
                Ok(()) if known == Some(value) => {}
                Ok(()) => {
                    let at = FIELDS.iter().position(|f| f.id == field);
                    self.stated.extend(at.map(|at| (Fact::Field(at), seq)));
                }
                Err(_) => self.unknown.push(format!("{field}={value}")),
            }
        }
    }

    /// Which stops hold after an entry, and since when.
    fn settle_stops(&mut self, knowledge: &Knowledge, entry: &Entry) {
        let stated = |fact: Fact| match fact {
            Fact::Finding(f) => self.source.get(&f).copied().unwrap_or(0),
            other => self.stated.get(&other).copied().unwrap_or(0),
        };
        let counts = |stop: usize, fact: Fact| {
            let lifted = self.lifted.get(&stop);
            lifted.is_none_or(|lifted| stated(fact) > *lifted)
        };
        self.stops = safety::stops_of_case(knowledge, &self.facts, counts);
        self.stops_since.retain(|stop, _| self.stops.contains(stop));
        for stop in &self.stops {
            let since = (entry.seq, entry.at);
            self.stops_since.entry(*stop).or_insert(since);
        }
    }

    fn answer(
        &mut self,
        knowledge: &Knowledge,
        seq: u32,
        finding: &str,
        state: &str,
        confidence: evidence::Confidence,
    ) {
        let Some(id) = knowledge.finding_id(finding) else {
            self.unknown.push(finding.to_string());
            return;
        };
        self.forget(knowledge, id);
        self.source.insert(id, seq);
        match evidence::answer(knowledge, id, state) {
            Ok(Some(answer)) => {
                self.facts
                    .findings
                    .insert(id, Sighting { answer, confidence });
                self.passed.remove(&id);
            }
            Ok(None) => {
                self.passed.insert(id);
            }
            Err(_) => self.unknown.push(format!("{finding}={state}")),
        }
    }

    fn tried(&mut self, knowledge: &Knowledge, fix: &str, result: TryResult) {
        match knowledge.fix_id(fix) {
            Some(fix) => self.facts.tried.push(Tried {
                fix,
                aimed_at: None,
                result,
            }),
            None => self.unknown.push(fix.to_string()),
        }
    }

    /// Fixes in a row, up to now, that changed nothing or made it worse.
    pub fn in_vain(&self) -> usize {
        self.facts
            .tried
            .iter()
            .rev()
            .take_while(|t| matches!(t.result, TryResult::Same | TryResult::Worse))
            .count()
    }

    /// Stops that hold on the machine, this case's own first: while there is one nothing heats or moves.
    pub fn held(&self) -> Vec<usize> {
        self.stops
            .iter()
            .copied()
            .chain(self.locked_by.iter().map(|l| l.stop))
            .collect()
    }

    /// Whether the case is closed.
    pub fn resolved(&self) -> bool {
        matches!(self.status, Status::Resolved(_))
    }
}

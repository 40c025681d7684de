//! What proves the fix of a case: how the fault struck, the clean prints since, and what they say
//! together.

use super::outcome::HeldAnswer;
use super::state::{CaseState, Status};
use crate::evidence::{Evidence, Facts, Together};
use crate::identified::identified;
use crate::knowledge::{FixId, Knowledge};
use crate::learning::hold::{ASKED_DAYS, Holding, WATCHED_DAYS};
use crate::learning::proof::{
    MOST_PRINTS, Strikes, Weights, came_back, exposure, hours_needed, most_silence, silent_hours,
    still_there, whole,
};
use crate::ranking::posterior;
use serde::{Deserialize, Serialize};
use time::{Duration, OffsetDateTime};

/// A print that shows all the time is a proof from so many hours on.
pub const LEAST_HOURS: f64 = 0.5;

/// A return is noted so many days after it, at the least: an hour.
const LEAST_DAYS: f64 = 1.0 / 24.0;

identified! {
    /// When in a print a fault shows.
    #[derive(Default)]
    pub enum Shows {
        /// All the time.
        #[default]
        AllTheTime = "all-the-time",
        /// In the first layer.
        FirstLayer = "first-layer",
        /// At a height, a feature, a passage of the file.
        AtPlace = "at-place",
        /// Only after hours of printing.
        AfterHours = "after-hours",
        /// At any moment.
        AnyMoment = "any-moment",
    }
}

/// How often a fault struck, and when in a print.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Struck {
    /// Prints that showed it.
    pub prints: u32,
    /// Prints in which it could have, counted from the first that did.
    pub of: u32,
    /// It shows in every print.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub every: bool,
    /// Clean prints of the same kind before the first that showed it, since the machine was last
    /// changed; none where nobody knows.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub clean_before: Option<u32>,
    /// When in a print.
    #[serde(default)]
    pub shows: Shows,
    /// Hours into a print at which it showed latest; for a fault at any moment, hours printed from
    /// the first strike to the last.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub hours: Option<f64>,
}

impl Default for Struck {
    /// Once so far.
    fn default() -> Self {
        Self {
            prints: 1,
            of: 1,
            every: false,
            clean_before: None,
            shows: Shows::default(),
            hours: None,
        }
    }
}

impl Struck {
    /// In every print, all the time.
    pub fn always() -> Self {
        Self {
            every: true,
            ..Self::default()
        }
    }

    pub(super) fn strikes(&self) -> Strikes {
        Strikes {
            k: self.prints,
            n: self.of,
            clean_before: self.clean_before,
            every: self.every,
        }
    }

    /// How much of a whole proof a print of so many hours is.
    fn exposure(&self, hours: Option<f64>) -> f64 {
        let Some(hours) = hours else { return 1.0 };
        match (self.shows, self.hours) {
            (Shows::AfterHours, Some(latest)) => exposure(hours, latest, self.prints),
            (Shows::AllTheTime, _) if hours < LEAST_HOURS => 0.0,
            _ => 1.0,
        }
    }
}

/// The proof of a fix as far as it is.
#[derive(Debug, Clone, PartialEq)]
pub struct Proof {
    /// The fix; none where it has no name in the knowledge.
    pub fix: Option<FixId>,
    /// Others that were applied before the same print.
    pub together: Together,
    /// Chance that it cures, by the book, when it was chosen; that one of them does, where there
    /// are several.
    pub cures: f64,
    /// When it was applied.
    pub from: OffsetDateTime,
    /// When the last clean print was noted.
    pub last_clean: Option<OffsetDateTime>,
    /// Hours of each clean print, where they were told.
    pub clean: Vec<Option<f64>>,
    /// How much less likely silence is by what else was seen: the check that told, repeated and
    /// sound; the fault, seen again with the old value back. 1 where nothing was.
    pub beside: f64,
}

/// What the clean prints so far prove.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Proving {
    /// Clean prints so far.
    pub prints: usize,
    /// Chance that the fault, still there, would have stayed away so long.
    pub silent: f64,
    /// Chance that it is still there.
    pub still_there: f64,
    /// Whole clean prints that are still needed, for faults counted by prints.
    pub more_prints: u32,
    /// Hours of clean printing still needed, for faults at any moment.
    pub more_hours: Option<f64>,
    /// Hours a print must run to be a whole proof.
    pub whole_hours: Option<f64>,
    /// It is proven.
    pub proven: bool,
    /// So many prints are needed that prints alone cannot prove it.
    pub too_many: bool,
}

impl Proof {
    /// What it proves for a fault that struck so.
    pub fn proving(&self, struck: &Struck) -> Proving {
        let prints = self.clean.len();
        let enough = most_silence(self.cures) + 1e-12;
        if let (Shows::AnyMoment, Some(hours)) = (struck.shows, struck.hours.filter(|h| *h > 0.0)) {
            let printed: f64 = self.clean.iter().flatten().sum();
            let silent = silent_hours(struck.prints, hours, printed) * self.beside();
            let needed = hours_needed(struck.prints, hours, enough / self.beside);
            // What was seen beside them proves nothing without a clean print.
            let least = if prints == 0 { LEAST_HOURS } else { 0.0 };
            let more = (needed - printed).max(least);
            return Proving {
                prints,
                silent,
                still_there: still_there(silent, self.cures),
                more_prints: 0,
                more_hours: Some(more),
                whole_hours: None,
                proven: silent <= enough,
                too_many: false,
            };
        }
        let share = struck.strikes().share();
        let parts = self.clean.iter().map(|hours| struck.exposure(*hours));
        let mut parts: Vec<f64> = parts.collect();
        let silent = share.silent_over(&parts) * self.beside();
        let mut more = 0;
        while (parts.is_empty() || share.silent_over(&parts) * self.beside > enough)
            && more <= MOST_PRINTS
        {
            parts.push(1.0);
            more += 1;
        }
        let more_prints = match more > MOST_PRINTS {
            true => share.prints_needed(self.cures),
            false => more,
        };
        Proving {
            prints,
            silent,
            still_there: still_there(silent, self.cures),
            more_prints,
            more_hours: None,
            whole_hours: match struck.shows {
                Shows::AfterHours => struck.hours.map(|h| h * whole(struck.prints)),
                Shows::AllTheTime => Some(LEAST_HOURS),
                _ => None,
            },
            proven: silent <= enough,
            too_many: more_prints > MOST_PRINTS,
        }
    }

    /// What else was seen counts with a clean print, not without one.
    fn beside(&self) -> f64 {
        match self.clean.is_empty() {
            true => 1.0,
            false => self.beside,
        }
    }

    /// What the clean prints so far weigh as evidence.
    pub(super) fn weights(&self, struck: &Struck) -> Weights {
        let silent = self.proving(struck).silent;
        [1.0, silent, silent, silent]
    }

    /// What they weigh when the fault came back after so many days since the last of them.
    pub(super) fn came_back(&self, struck: &Struck, since: f64) -> Weights {
        let last = self.last_clean.unwrap_or(self.from);
        let day = (last - self.from).as_seconds_f64().max(0.0) / 86_400.0;
        let (rate, since) = (Holding::default().rate(day), since.max(LEAST_DAYS));
        let share = struck.strikes().share();
        came_back(share, self.clean.len() as u32, (day, since), rate)
    }
}

/// Chance that a fix cures, or one of those applied together with it, by the book, for what is
/// known.
pub(super) fn chance(knowledge: &Knowledge, facts: &Facts, fix: FixId, together: Together) -> f64 {
    let mut book = facts.clone();
    book.learned = None;
    book.tried.retain(|t| !t.tries(fix));
    // A check that tried it says nothing of how it was chosen.
    book.findings
        .retain(|f, _| knowledge.finding(*f).also_fix != Some(fix));
    let posterior = posterior(knowledge, &Evidence::of(knowledge, &book), false);
    let each = posterior.hypotheses.iter().zip(&posterior.probability);
    each.flat_map(|(h, p)| {
        h.causes()
            .map(move |c| p * together.cure(knowledge, fix, c))
    })
    .sum()
}

impl CaseState {
    /// How the fault struck, as told, or once so far.
    pub fn struck(&self) -> Struck {
        self.strikes.unwrap_or_default()
    }

    /// What the proof of the last fix says; none where no fix waits for one or had one.
    pub fn proving(&self) -> Option<Proving> {
        Some(self.proof.as_ref()?.proving(&self.struck()))
    }

    /// Whether the last fix is proven.
    pub fn proven(&self) -> bool {
        self.proving().is_some_and(|p| p.proven)
    }

    /// The last clean print of a closed case, or its closing; none while it is open.
    pub fn clean_at(&self) -> Option<OffsetDateTime> {
        let Status::Resolved(end) = &self.status else {
            return None;
        };
        let clean = self.proof.as_ref().and_then(|p| p.last_clean);
        Some(clean.unwrap_or(end.at).min(end.at))
    }

    /// Whether a fault of this closed case that shows now is a new trouble: its fix held as long as
    /// anybody watches.
    pub fn new_trouble(&self, now: OffsetDateTime) -> bool {
        let watched = Duration::seconds_f64(WATCHED_DAYS * 86_400.0);
        self.clean_at().is_some_and(|at| now - at > watched)
    }

    /// When a closed case asks whether its fix held: none once it was watched to the end, or cannot
    /// be said.
    pub fn ask_at(&self) -> Option<OffsetDateTime> {
        let (Status::Resolved(end), Some(from)) = (&self.status, self.clean_at()) else {
            return None;
        };
        let unsure = end.asked.iter().any(|(_, a)| *a == HeldAnswer::CannotSay);
        if !end.outcome.mended() || (end.fix.is_none() && end.cause.is_none()) || unsure {
            return None;
        }
        let last = end.asked.iter().map(|(at, _)| *at).max();
        let watched = last.map_or(Duration::ZERO, |at| at - from);
        let mut days = ASKED_DAYS.into_iter().map(Duration::days);
        days.find(|day| *day > watched).map(|day| from + day)
    }

    /// Days from the last clean print of a closed case to a return that was noted at a moment;
    /// half-way since the last yes where nobody knows.
    pub fn days_to_return(&self, noted: OffsetDateTime, told: Option<f64>) -> f64 {
        let (Status::Resolved(end), Some(from)) = (&self.status, self.clean_at()) else {
            return told.unwrap_or(0.0);
        };
        let yes = end.asked.iter().filter(|(_, a)| *a == HeldAnswer::Held);
        let last = yes.map(|(at, _)| *at).fold(from, OffsetDateTime::max);
        let days = |span: Duration| span.as_seconds_f64().max(0.0) / 86_400.0;
        told.unwrap_or_else(|| days(last - from) + days(noted - last) / 2.0)
    }
}

//! What doing a step takes, built from what is written: steps with their cautions, tools, state,
//! scales.

use super::build::Builder;
use super::load::Entry;
use super::order::{Belongs, calls_for, standings};
use super::raw;
use super::types::{Act, MachineState, ProcedureStep, Stands, Trade, Work};
use crate::identified::UnknownId;
use std::str::FromStr;

impl Builder<'_> {
    /// The steps of a procedure.
    fn stages<T>(&mut self, entry: &Entry<T>, raw: &raw::Work) -> Vec<ProcedureStep> {
        let stages: Vec<ProcedureStep> = raw
            .steps
            .iter()
            .map(|step| match step {
                raw::Step::Words(words) => self.stage(
                    entry,
                    &raw::FullStep {
                        words: words.clone(),
                        ..raw::FullStep::default()
                    },
                ),
                raw::Step::Full(full) => self.stage(entry, full),
            })
            .collect();
        if stages.iter().any(|s| s.text.is_empty()) {
            self.say(entry, "steps", "a step has no words (`do`)");
        }
        let waits: f64 = stages.iter().map(|s| s.wait).sum();
        if waits > raw.waiting + 1e-9 {
            self.say(
                entry,
                "steps",
                format!(
                    "its steps wait {waits} minutes, more than the {} of `waiting`",
                    raw.waiting
                ),
            );
        }
        stages
    }

    fn stage<T>(&mut self, entry: &Entry<T>, full: &raw::FullStep) -> ProcedureStep {
        if !(0.0..=1000.0).contains(&full.wait) {
            self.say(
                entry,
                "steps",
                format!("a wait of {} minutes makes no sense here", full.wait),
            );
        }
        let resolved = |build: &mut Self, id: &String| {
            build.resolve(entry, "steps", id, "caution", |i| &i.cautions)
        };
        let way = |build: &mut Self, (when, id): &(String, String)| {
            build
                .resolve(entry, "steps", id, "fix", |i| &i.fixes)
                .map(|fix| (when.clone(), fix))
        };
        ProcedureStep {
            text: full.words.clone(),
            wait: full.wait,
            stands: self.words(entry, "steps.state", full.state.split_whitespace()),
            acts: self.words(entry, "steps.act", full.act.split_whitespace()),
            tools: full.tools.clone(),
            cautions: full
                .caution
                .iter()
                .filter_map(|id| resolved(self, id))
                .collect(),
            drawing: Some(full.drawing.clone()).filter(|d| !d.is_empty()),
            keep: full.keep.clone(),
            otherwise: full.otherwise.iter().filter_map(|o| way(self, o)).collect(),
        }
    }

    /// Words of a closed set.
    fn words<'w, T, W: FromStr<Err = UnknownId>>(
        &mut self,
        entry: &Entry<T>,
        key: &str,
        words: impl Iterator<Item = &'w str>,
    ) -> Vec<W> {
        let mut out = Vec::new();
        for word in words {
            match word.parse::<W>() {
                Ok(known) => out.push(known),
                Err(unknown) => self.say(entry, key, unknown.to_string()),
            }
        }
        out
    }

    /// The place of a word on a scale of three; nothing said is the first.
    fn scale<T>(&mut self, entry: &Entry<T>, key: &str, text: &str, words: [&str; 3]) -> u8 {
        let at = match text {
            "" => Some(0),
            text => words.iter().position(|w| *w == text),
        };
        at.unwrap_or_else(|| {
            let message = format!("`{text}` is not one of {}", words.join(", "));
            self.say(entry, key, message);
            0
        }) as u8
    }

    pub(super) fn work<T>(&mut self, entry: &Entry<T>, raw: &raw::Work) -> Work {
        if raw.name.is_empty() || raw.steps.is_empty() {
            self.say(entry, "", "`name` and `steps` are needed");
        }
        for (key, value) in [
            ("minutes", raw.minutes),
            ("waiting", raw.waiting),
            ("grams", raw.grams),
            ("money", raw.money),
        ] {
            if !(0.0..=10_000.0).contains(&value) {
                self.say(entry, key, format!("{value} makes no sense here"));
            }
        }
        let dismantling = self.scale(
            entry,
            "dismantling",
            &raw.dismantling,
            ["none", "some", "much"],
        );
        let risk = self.scale(entry, "risk", &raw.risk, ["none", "some", "high"]);
        let stands: Vec<Stands> = self.words(entry, "state", raw.state.iter().map(String::as_str));
        let named: Vec<usize> = raw
            .cautions
            .iter()
            .filter_map(|id| self.resolve(entry, "cautions", id, "caution", |i| &i.cautions))
            .collect();
        let mut tools = raw.tools.clone();
        let steps = self.stages(entry, raw);
        for tool in steps.iter().flat_map(|s| &s.tools) {
            if !tools.contains(tool) {
                tools.push(tool.clone());
            }
        }
        let acts = || steps.iter().flat_map(|s| &s.acts);
        let heats = raw.prints
            || stands.contains(&Stands::Hot)
            || acts().any(|a| matches!(a, Act::Heat | Act::Print));
        let mut work = Work {
            name: raw.name.clone(),
            steps,
            tools,
            minutes: raw.minutes,
            waiting: raw.waiting,
            grams: raw.grams,
            money: raw.money,
            dismantling,
            risk,
            state: machine_state(&stands),
            stands,
            ready: named,
            heats,
            prints: raw.prints,
            raises_nozzle_c: raw.raises_nozzle_c,
            cautions: Vec::new(),
            trade: self.trade(entry, &raw.trade),
        };
        self.place_cautions(&mut work);
        work
    }

    fn trade<T>(&mut self, entry: &Entry<T>, text: &str) -> Option<Trade> {
        let trade = Trade::from_id(text);
        if trade.is_none() && !text.is_empty() {
            let known = Trade::ALL.map(Trade::id).join(", ");
            self.say(entry, "trade", format!("`{text}` is not one of {known}"));
        }
        trade
    }

    /// Puts each caution before the first thing it belongs to, and nowhere again.
    fn place_cautions(&self, work: &mut Work) {
        let standings = standings(work);
        let mut said = work.ready.clone();
        let heated = work.stands.contains(&Stands::Hot);
        for (caution, belongs) in self.belongs.iter().enumerate() {
            let of_getting_ready = belongs.iter().any(|b| match b {
                Belongs::Standing(word) => work.stands.contains(word),
                Belongs::Act(act) => heated && *act == Act::Heat,
            });
            if of_getting_ready && !said.contains(&caution) {
                work.ready.push(caution);
                said.push(caution);
            }
        }
        for (step, standing) in work.steps.iter_mut().zip(standings) {
            step.cautions.retain(|c| !said.contains(c));
            let called = |b: &Belongs| calls_for(step, standing, b);
            let called: Vec<usize> = (0..self.belongs.len())
                .filter(|c| self.belongs[*c].iter().any(called))
                .filter(|c| !said.contains(c) && !step.cautions.contains(c))
                .collect();
            step.cautions.extend(called);
            step.cautions.sort_unstable();
            said.extend(&step.cautions);
        }
        work.ready.sort_unstable();
        said.sort_unstable();
        work.cautions = said;
    }
}

/// The part of a state that costs minutes to bring about.
fn machine_state(stands: &[Stands]) -> MachineState {
    let mut state = MachineState::default();
    for word in stands {
        match word {
            Stands::Hot => state.hot = Some(true),
            Stands::Cold | Stands::Unplugged => state.hot = Some(false),
            Stands::Unloaded => state.unloaded = Some(true),
            Stands::Loaded => state.unloaded = Some(false),
            Stands::Open => state.open = Some(true),
            Stands::Closed => state.open = Some(false),
            Stands::HotBed | Stands::Powered | Stands::Off => {}
        }
    }
    state
}

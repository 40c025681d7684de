//! What doing a step takes, built from what is written: steps with their cautions, tools, state,
//! scales.

use super::build::Builder;
use super::load::Entry;
use super::raw;
use super::types::{MachineState, ProcedureStep, Work};

impl Builder<'_> {
    /// The steps of a procedure. A caution that no step claims is said before the first step in
    /// whose words it is found, else before all.
    fn stages<T>(
        &mut self,
        entry: &Entry<T>,
        raw: &raw::Work,
        cautions: &[usize],
    ) -> Vec<ProcedureStep> {
        let mut stages: Vec<ProcedureStep> = raw
            .steps
            .iter()
            .map(|step| match step {
                raw::Step::Words(words) => ProcedureStep {
                    text: words.clone(),
                    wait: 0.0,
                    cautions: Vec::new(),
                    drawing: None,
                    keep: Vec::new(),
                    otherwise: Vec::new(),
                },
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
        for caution in cautions
            .iter()
            .filter(|c| !claimed(&stages, **c))
            .copied()
            .collect::<Vec<_>>()
        {
            let words = &self.caution_words[caution];
            let at = stages
                .iter()
                .position(|s| words.iter().any(|w| s.text.contains(w)))
                .unwrap_or(0);
            if let Some(stage) = stages.get_mut(at) {
                stage.cautions.push(caution);
            }
        }
        stages.iter_mut().for_each(|s| s.cautions.sort_unstable());
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
        let cautions = full
            .cautions
            .iter()
            .filter_map(|id| resolved(self, id))
            .collect();
        let way = |build: &mut Self, (when, id): &(String, String)| {
            build
                .resolve(entry, "steps", id, "fix", |i| &i.fixes)
                .map(|fix| (when.clone(), fix))
        };
        ProcedureStep {
            text: full.words.clone(),
            wait: full.wait,
            cautions,
            drawing: Some(full.drawing.clone()).filter(|d| !d.is_empty()),
            keep: full.keep.clone(),
            otherwise: full.otherwise.iter().filter_map(|o| way(self, o)).collect(),
        }
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

    /// The state the machine must be in.
    fn machine_state<T>(&mut self, entry: &Entry<T>, words: &[String]) -> MachineState {
        let mut state = MachineState::default();
        for word in words {
            match word.as_str() {
                "hot" => state.hot = Some(true),
                "cold" | "unplugged" => state.hot = Some(false),
                "unloaded" => state.unloaded = Some(true),
                "loaded" => state.unloaded = Some(false),
                "open" => state.open = Some(true),
                _ => self.say(
                    entry,
                    "state",
                    format!("`{word}` is not one of hot, cold, unplugged, unloaded, loaded, open"),
                ),
            }
        }
        state
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
        let state = self.machine_state(entry, &raw.state);
        let mut cautions: Vec<usize> = raw
            .cautions
            .iter()
            .filter_map(|id| self.resolve(entry, "cautions", id, "caution", |i| &i.cautions))
            .collect();
        let steps = self.stages(entry, raw, &cautions);
        cautions.extend(steps.iter().flat_map(|s| &s.cautions));
        cautions.sort_unstable();
        cautions.dedup();
        Work {
            name: raw.name.clone(),
            steps,
            tools: raw.tools.clone(),
            minutes: raw.minutes,
            waiting: raw.waiting,
            grams: raw.grams,
            money: raw.money,
            dismantling,
            risk,
            state,
            state_words: raw.state.clone(),
            prints: raw.prints,
            raises_nozzle_c: raw.raises_nozzle_c,
            cautions,
        }
    }
}

fn claimed(stages: &[ProcedureStep], caution: usize) -> bool {
    stages.iter().any(|s| s.cautions.contains(&caution))
}

//! Proves the order of a procedure: heat, plug, covers, tube and height, one step after the other.

use super::types::{Act, Power, ProcedureStep, Standing, Stands, Work};

/// How the machine stands after each step of a procedure, begun as getting ready leaves it.
pub fn standings(work: &Work) -> Vec<Standing> {
    let mut walk = Walk::begin(work, false);
    let after = |step: &ProcedureStep| {
        walk.step(step);
        walk.now
    };
    work.steps.iter().map(after).collect()
}

/// What is wrong with the order of a procedure: the step, from 1, and why. A procedure that clears
/// a stop may let a machine cool unplugged.
pub(super) fn problems(work: &Work, under_a_stop: bool) -> Vec<(usize, String)> {
    let mut walk = Walk::begin(work, under_a_stop);
    for step in &work.steps {
        walk.step(step);
    }
    walk.end();
    walk.problems
}

/// Goes through a procedure step by step.
struct Walk {
    now: Standing,
    at: usize,
    under_a_stop: bool,
    /// A step after which the tube does not sit at the nozzle, and one after which the height is
    /// not known.
    tube_loose: Option<usize>,
    height_lost: Option<usize>,
    problems: Vec<(usize, String)>,
}

impl Walk {
    fn begin(work: &Work, under_a_stop: bool) -> Self {
        let mut now = Standing::default();
        work.stands.iter().for_each(|word| now.put(*word));
        Self {
            now,
            at: 0,
            under_a_stop,
            tube_loose: None,
            height_lost: None,
            problems: Vec::new(),
        }
    }

    fn say(&mut self, why: impl Into<String>) {
        self.problems.push((self.at, why.into()));
    }

    fn step(&mut self, step: &ProcedureStep) {
        self.at += 1;
        for act in &step.acts {
            self.allow(*act);
            self.carry_out(*act);
        }
        let now = self.now;
        for word in step.stands.iter().filter(|w| !now.is(**w)) {
            self.say(format!(
                "is to be done {word}, which no step before it brings about"
            ));
        }
        if self.at > 1 && step.acts.contains(&Act::PrintPart) {
            self.say("prints a part the repair needs: that comes before anything is taken apart");
        }
    }

    /// What must hold before an act.
    fn allow(&mut self, act: Act) {
        let runs = [
            Act::Heat,
            Act::HeatBed,
            Act::Move,
            Act::Print,
            Act::Power,
            Act::SetHeight,
        ];
        if self.under_a_stop && runs.contains(&act) {
            self.say(format!("`{act}` on a machine that a stop holds"));
        }
        let Standing {
            hot, power, open, ..
        } = self.now;
        let on = power == Power::On;
        match act {
            Act::Heat | Act::HeatBed | Act::Print | Act::Move | Act::SetHeight if !on => {
                self.say(format!("`{act}` needs power, and the machine is off"));
            }
            Act::Heat | Act::HeatBed | Act::Print if open => {
                self.say(format!("`{act}` with a cover or duct off"));
            }
            Act::Cool if !on => self.say("cools without its fan: the plug comes last"),
            Act::CoolUnplugged if !self.under_a_stop => {
                self.say("cools without its fan, which only a stop asks for");
            }
            Act::Wires | Act::Board if power != Power::Unplugged => {
                self.say(format!("`{act}` while the plug is in"));
            }
            Act::BlockTool if on => self.say("a metal tool at a block that may be live"),
            Act::ByHand | Act::Open if on => self.say(format!("`{act}` while it can move")),
            Act::Unload | Act::Load if hot == Some(false) => {
                self.say(format!("`{act}` needs a hot block"));
            }
            _ => {}
        }
    }

    fn carry_out(&mut self, act: Act) {
        match act {
            Act::Heat => self.now.hot = Some(true),
            Act::HeatBed => self.now.hot_bed = true,
            Act::Cool | Act::CoolUnplugged => {
                self.now.hot = Some(false);
                self.now.hot_bed = false;
            }
            Act::Off => self.now.power = self.now.power.max(Power::Off),
            Act::Unplug => self.now.power = Power::Unplugged,
            Act::Power => self.now.power = Power::On,
            Act::Open => self.now.open = true,
            Act::Close => self.now.open = false,
            Act::Unload => self.now.unloaded = Some(true),
            Act::Load => self.now.unloaded = Some(false),
            Act::Nozzle => {
                self.tube_loose = Some(self.at);
                self.height_lost = Some(self.at);
            }
            Act::TubeOut => self.tube_loose = Some(self.at),
            Act::TubeHome => self.tube_loose = None,
            Act::ShiftHeight => self.height_lost = Some(self.at),
            Act::SetHeight => self.height_lost = None,
            Act::Print => {
                self.now.hot = Some(true);
                self.now.hot_bed = true;
                self.now.unloaded = Some(false);
            }
            _ => {}
        }
    }

    fn end(&mut self) {
        if let Some(at) = self.tube_loose {
            self.at = at;
            self.say("loosens the tube or the nozzle, and no later step pushes the tube home");
        }
        if let Some(at) = self.height_lost {
            self.at = at;
            self.say("shifts the first-layer height, and no later step sets it anew");
        }
    }
}

/// Whether a step calls for what a caution belongs to: a word for how the machine stands, or an
/// act.
pub(super) fn calls_for(step: &ProcedureStep, standing: Standing, belongs: &Belongs) -> bool {
    match belongs {
        Belongs::Standing(word) => standing.is(*word),
        Belongs::Act(act) => step.acts.contains(act),
    }
}

/// What a caution belongs to.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Belongs {
    /// Every step done while the machine stands so.
    Standing(Stands),
    /// Every step that does this.
    Act(Act),
}

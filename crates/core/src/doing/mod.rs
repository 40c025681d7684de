//! A check or a fix led through one step at a time: tools and state first, cautions before the step
//! they belong to, parts back at the end.

mod here;
mod ladder;

pub use here::{NewValue, here, new_value};
pub use ladder::{Rung, ladder, look_for};

use crate::evidence::{Facts, hottest_nozzle, nozzle_window};
use crate::knowledge::{FixId, Knowledge, Stands, Work, standings};
use crate::planning::{Present, Workshop};
use crate::safety;
use crate::settings::NumberId;

/// What kind of step it is.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum StepKind {
    /// Tools at hand, machine in its state.
    Ready,
    /// One step of the procedure.
    Do,
    /// Parts back in their places.
    Back,
}

/// One step as a person does it.
#[derive(Debug, Clone, PartialEq)]
pub struct GuidedStep {
    /// What kind of step.
    pub kind: StepKind,
    /// What to do.
    pub text: String,
    /// What its general words mean on this machine with this material: "nozzle 205 °C".
    pub here: Vec<String>,
    /// Minutes to wait before the next; 0 for none.
    pub wait: f64,
    /// How the machine stands when it is done, as far as the procedure has said.
    pub stands: Vec<Stands>,
    /// Tools in hand.
    pub tools: Vec<String>,
    /// Cautions to read before it, by index.
    pub cautions: Vec<usize>,
    /// Name of a drawing, where a hand needs one.
    pub drawing: Option<String>,
    /// Parts that come off here; in the last step, parts that must be back.
    pub parts: Vec<String>,
    /// What may go wrong, and the procedure that leads on.
    pub otherwise: Vec<(String, FixId)>,
}

/// The steps of a piece of work, from the state the machine is in.
pub fn guided_steps(
    knowledge: &Knowledge,
    facts: &Facts,
    work: &Work,
    present: Present,
    workshop: &Workshop,
) -> Vec<GuidedStep> {
    let first = get_ready(knowledge, facts, work, present, workshop);
    let said = first.cautions.clone();
    let own = |c: &usize| !said.contains(c) && safety::concerns(knowledge, facts, *c);
    let standings = standings(work).into_iter();
    let steps = work.steps.iter().zip(standings).map(|(s, now)| GuidedStep {
        kind: StepKind::Do,
        here: here(knowledge, facts, &s.text),
        text: s.text.clone(),
        wait: s.wait,
        stands: now.words(),
        tools: s.tools.clone(),
        cautions: s.cautions.iter().copied().filter(own).collect(),
        drawing: s.drawing.clone(),
        parts: s.keep.clone(),
        otherwise: s.otherwise.clone(),
    });
    let mut steps: Vec<GuidedStep> = steps.collect();
    // Nothing to get and nothing to bring about: the work begins at once, its cautions said there.
    if first.text.is_empty()
        && let Some(step) = steps.first_mut()
    {
        step.cautions.splice(0..0, first.cautions);
    } else {
        steps.insert(0, first);
    }
    steps.extend(put_back(work));
    steps
}

impl GuidedStep {
    /// A step that stands around the procedure.
    fn around(kind: StepKind, text: String) -> Self {
        Self {
            kind,
            text,
            here: Vec::new(),
            wait: 0.0,
            stands: Vec::new(),
            tools: Vec::new(),
            cautions: Vec::new(),
            drawing: None,
            parts: Vec::new(),
            otherwise: Vec::new(),
        }
    }
}

/// Tools and state first, with what is said before anything is done: what no step claims (machine
/// and material call for it), and what belongs to getting ready, as heating does.
fn get_ready(
    knowledge: &Knowledge,
    facts: &Facts,
    work: &Work,
    present: Present,
    workshop: &Workshop,
) -> GuidedStep {
    let (state, wait) = ready(knowledge, facts, work, present, workshop);
    let claimed = |c: &usize| work.steps.iter().any(|s| s.cautions.contains(c));
    let cautions = safety::cautions(knowledge, facts, work).into_iter();
    let cautions = cautions.filter(|c| !claimed(c)).collect();
    let tools = match work.tools.is_empty() {
        true => String::new(),
        false => format!("Have at hand: {}.", work.tools.join(", ")),
    };
    let text = match (tools.as_str(), state.as_str()) {
        (one, "") | ("", one) => one.to_string(),
        (tools, state) => format!("{tools} {state}"),
    };
    GuidedStep {
        wait,
        stands: work.stands.clone(),
        cautions,
        ..GuidedStep::around(StepKind::Ready, text)
    }
}

/// Parts that came off go back at the end.
fn put_back(work: &Work) -> Option<GuidedStep> {
    let parts: Vec<String> = work.steps.iter().flat_map(|s| s.keep.clone()).collect();
    let text = "Everything back in its place. Tick each part when you have fitted it.";
    (!parts.is_empty()).then(|| GuidedStep {
        parts,
        ..GuidedStep::around(StepKind::Back, text.into())
    })
}

/// How the machine is brought into the state the work needs, and how long that takes: "Heat the
/// nozzle to 210 °C, the filament stays in."
fn ready(
    knowledge: &Knowledge,
    facts: &Facts,
    work: &Work,
    present: Present,
    workshop: &Workshop,
) -> (String, f64) {
    let mut parts: Vec<String> = Vec::new();
    let wait = present.warming(work, workshop);
    match work.state.hot {
        Some(true) => {
            let to = nozzle_target(knowledge, facts)
                .map_or("print temperature".to_string(), |t| format!("{t:.0} °C"));
            parts.push(if wait > 0.0 {
                format!("Heat the nozzle to {to}")
            } else {
                format!("The nozzle is at {to} or near it")
            });
        }
        Some(false) => parts.extend(cooling(knowledge, facts, work)),
        None => {}
    }
    if work.stands.contains(&Stands::HotBed) {
        parts.push("heat the bed as for printing".into());
    }
    match work.state.unloaded {
        // Said before the cooling: cold, it does not come out.
        Some(true) if work.state.hot == Some(false) => {}
        Some(true) => parts.push("take the filament out".into()),
        Some(false) => parts.push("the filament stays in".into()),
        None if work.state.hot == Some(true) => parts.push("the filament stays in".into()),
        None => {}
    }
    if work.state.open == Some(true) {
        parts.push("take off what covers the part".into());
    }
    if parts.is_empty() {
        return (String::new(), 0.0);
    }
    let mut text = parts.join(", ");
    let first: String = text.chars().take(1).flat_map(char::to_uppercase).collect();
    text.replace_range(..text.chars().next().map_or(0, char::len_utf8), &first);
    (format!("{text}."), wait)
}

/// How a machine is cooled. Without the fan on its fins the block's heat creeps up, softens the
/// filament and the mounts; so the plug comes last, unless a stop holds: then it comes at once.
fn cooling(knowledge: &Knowledge, facts: &Facts, work: &Work) -> Vec<String> {
    let unplugged = work.stands.contains(&Stands::Unplugged);
    if !safety::stops(knowledge, facts).is_empty() {
        return vec![
            "Pull the plug at once".into(),
            "let it cool for half an hour without its fan, the bed longer".into(),
        ];
    }
    let mut parts = Vec::new();
    if work.state.unloaded == Some(true) {
        parts.push("Take the filament out while the nozzle is hot".to_string());
    }
    parts.push("set all heaters to 0".into());
    parts.push("leave the hot end's fan on until the block is below 50 °C".into());
    if unplugged {
        parts.push("then switch off and pull the plug".into());
    }
    parts
}

/// What the nozzle is heated to: as the case prints, else the middle of the material's window;
/// never past what the hot end bears.
pub(super) fn nozzle_target(knowledge: &Knowledge, facts: &Facts) -> Option<f64> {
    let window =
        nozzle_window(knowledge, &facts.context, &facts.settings).filter(|(low, _)| *low > 0.0);
    let hottest = hottest_nozzle(knowledge, &facts.context, &facts.settings);
    let asked = facts
        .settings
        .get(NumberId::NozzleC)
        .or_else(|| window.map(|(low, high)| ((low + high) / 2.0 / 5.0).round() * 5.0));
    asked.map(|t| t.min(hottest))
}

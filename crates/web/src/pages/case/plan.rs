//! Where the advice leads: the plan as a tree, how likely it is over in half an hour, and why it
//! begins as it does.

use crate::pages::Page;
use crate::pages::open_case::{CaseHead, OpenCase};
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Query, State};
use axum::response::Html;
use std::collections::BTreeMap;
use suspect_core::case::{Analysis, follow};
use suspect_core::planning::{Action, Branch, Course, Node, Turn};
use suspect_store::think;

/// Depth shown at first, and the deepest there is.
const FIRST: usize = 2;
pub const DEEPEST: usize = 4;
/// Branches less likely than this are told in one line.
const UNLIKELY: f64 = 0.03;

/// A step of the tree; it draws the steps below it.
#[derive(Template)]
#[template(path = "case/plan_node.html")]
pub struct NodeView {
    pub name: String,
    pub href: String,
    pub kind: &'static str,
    pub minutes: String,
    pub branches: Vec<BranchView>,
    pub unlikely: Option<String>,
}

/// One way on.
pub struct BranchView {
    pub turn: String,
    pub share: String,
    pub width: f64,
    pub ends: Option<&'static str>,
    pub next: Option<NodeView>,
}

/// The chances and the reason, as the case's page shows them too.
pub struct Outlook {
    pub expected: String,
    pub within_30: String,
    pub within_90: String,
    pub second: Option<String>,
    /// "Solved hardly within 30 minutes, with 68 % within 90."
    pub chances: String,
}

#[derive(Template)]
#[template(path = "case/plan.html")]
struct PlanPage {
    head: CaseHead,
    outlook: Outlook,
    tree: Option<NodeView>,
    deeper: Option<String>,
    locked: bool,
    settings_href: &'static str,
}

/// How long it will take, with which chance, and what the first step saves against the second best.
pub fn outlook(state: &AppState, analysis: &Analysis, course: &Course) -> Outlook {
    let second = analysis.plan.ahead_of_second().map(|(saves, action)| {
        let name = show::lower_first(action.name(&state.knowledge));
        if saves < 0.5 {
            format!("as good as the second best: {name}")
        } else {
            format!(
                "saves {} against the second best: {name}",
                show::minutes(saves)
            )
        }
    });
    Outlook {
        expected: show::minutes(course.expected_minutes),
        within_30: show::percent(course.within(30.0)),
        within_90: show::percent(course.within(90.0)),
        second,
        chances: chances(course.within(30.0), course.within(90.0)),
    }
}

/// Below this a chance is no chance to speak of.
const HARDLY: f64 = 0.02;

/// The chances of being done in half an hour and in an hour and a half, in words.
fn chances(soon: f64, later: f64) -> String {
    let soon = match soon {
        p if p < HARDLY && later < HARDLY => return "Hardly solved within 90 minutes.".into(),
        p if p < HARDLY => "hardly within 30 minutes".to_string(),
        p => format!("within 30 minutes with {}", show::percent(p)),
    };
    format!("Solved {soon}, within 90 with {}.", show::percent(later))
}

/// `GET /cases/{id}/plan?depth=…`
pub async fn show(
    State(state): State<AppState>,
    case: OpenCase,
    Query(query): Query<BTreeMap<String, String>>,
) -> Page {
    let depth = query
        .get("depth")
        .and_then(|d| d.parse().ok())
        .unwrap_or(FIRST)
        .clamp(1, DEEPEST);
    let analysis = case.analysis(&state).await;
    let course = think(|| {
        follow(
            &state.knowledge,
            &case.state,
            &analysis,
            &case.workshop,
            depth,
        )
    })
    .await;
    let page = PlanPage {
        head: case.head(),
        outlook: outlook(&state, &analysis, &course),
        locked: course.first.is_none(),
        tree: course.first.as_ref().map(|n| node(&state, &case, n)),
        deeper: (depth < DEEPEST).then(|| format!("{}?depth={}", case.below("plan"), depth + 1)),
        settings_href: urls::WORKSHOP,
    };
    Ok(Html(page.render()?))
}

fn node(state: &AppState, case: &OpenCase, n: &Node) -> NodeView {
    let k = &state.knowledge;
    let (kind, href) = match n.action {
        Action::Check(c) => ("check", case.below(&format!("check/{}", k.check_name(c)))),
        Action::Fix(x) => ("fix", case.below(&format!("fix/{}", k.fix(x).id))),
        Action::GiveUp | Action::ClearStop(_) => ("end", case.below("brief")),
    };
    let likely: Vec<BranchView> = n
        .branches
        .iter()
        .filter(|b| b.probability >= UNLIKELY)
        .map(|b| branch(state, case, n, b))
        .collect();
    let rest: f64 = n
        .branches
        .iter()
        .filter(|b| b.probability < UNLIKELY)
        .map(|b| b.probability)
        .sum();
    NodeView {
        name: n.action.name(k).to_string(),
        href,
        kind,
        minutes: if n.minutes > 0.0 {
            show::minutes(n.minutes)
        } else {
            String::new()
        },
        branches: likely,
        unlikely: (rest > 0.0).then(|| format!("anything else: {}", show::percent(rest))),
    }
}

fn branch(state: &AppState, case: &OpenCase, n: &Node, b: &Branch) -> BranchView {
    let k = &state.knowledge;
    let cured_outcome = |state: usize, c| k.check(c).ends_case.contains(&state);
    let (turn, cured) = match (b.turn, n.action) {
        (Turn::Outcome(s), Action::Check(c)) => (
            k.finding(k.check(c).finding).states[s].phrase.clone(),
            cured_outcome(s, c),
        ),
        (Turn::Cured, _) => ("the fault is gone".to_string(), true),
        (Turn::NotCured | Turn::Outcome(_), _) => ("it is still there".to_string(), false),
    };
    BranchView {
        turn: show::capital(&turn),
        share: show::percent(b.probability),
        width: (b.probability * 100.0).max(1.0),
        ends: if cured { Some("solved") } else { None },
        next: b.next.as_ref().map(|next| node(state, case, next)),
    }
}

#[cfg(test)]
mod tests {
    use super::chances;

    #[test]
    fn chances_are_told_in_words() {
        assert_eq!(
            chances(0.001, 0.68),
            "Solved hardly within 30 minutes, within 90 with 68\u{a0}%."
        );
        assert_eq!(
            chances(0.3, 0.7),
            "Solved within 30 minutes with 30\u{a0}%, within 90 with 70\u{a0}%."
        );
        assert_eq!(chances(0.0, 0.01), "Hardly solved within 90 minutes.");
    }
}

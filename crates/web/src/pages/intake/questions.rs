//! Questions worth asking now: at most three, the most telling per second first, each with what its
//! answers would do.

use super::scene::Scene;
use super::sign::{SignCard, card};
use crate::{show, urls};
use suspect_core::intake;

pub struct QuestionCard {
    pub sign: SignCard,
    pub why: String,
    pub seconds: String,
}

pub struct QuestionsView {
    pub questions: Vec<QuestionCard>,
    /// Facts known: with none, there is nothing yet to tell apart.
    pub facts: usize,
    pub print_href: String,
}

pub fn view(scene: &Scene) -> QuestionsView {
    let (k, case) = (&scene.state.knowledge, &scene.case.state);
    let questions = intake::questions(k, case, &scene.analysis.line_up);
    let question = |(place, q): (usize, intake::Question)| {
        let mut sign = card(scene, q.finding);
        if place == 0 {
            sign.buttons
                .iter_mut()
                .take(9)
                .enumerate()
                .for_each(|(n, b)| b.key = Some(n + 1));
        }
        let f = k.finding(q.finding);
        for answer in &q.answers {
            let id = &f.states[answer.state].id;
            if let Some(button) = sign.buttons.iter_mut().find(|b| b.value == *id) {
                let (leader, p) = answer.leader;
                button.then = format!(
                    "{} {}",
                    k.cause(leader).name.to_lowercase(),
                    show::percent(p)
                );
            }
        }
        let (a, b) = (k.cause(q.separates.0), k.cause(q.separates.1));
        QuestionCard {
            sign,
            why: format!(
                "Tells {} from {}.",
                a.name.to_lowercase(),
                b.name.to_lowercase()
            ),
            seconds: format!("about {:.0}\u{a0}s", q.seconds),
        }
    };
    QuestionsView {
        questions: questions.into_iter().enumerate().map(question).collect(),
        facts: case.facts.findings.len(),
        print_href: urls::intake(scene.case.id, "print", ""),
    }
}

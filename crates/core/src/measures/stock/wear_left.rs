//! The life left in a part, and when to order the next.

use crate::measures::card::{Card, Hold};
use crate::measures::input::{hours, plain, whole};
use crate::measures::maths::{ceil, mean, phi, show};
use crate::measures::{Given, Measure, Out, Refused};

pub(super) const MEASURE: Measure = Measure {
    id: "wear-left",
    plain: "life left in a part, and when to order",
    not: "accidents; hours or kilograms, but one of them throughout",
    safety: "",
    card: Card {
        hold: Hold::Pencil,
        words: "wear part life order spare hours",
        formulas: &[
            "{left_h} = {life_h} − {used_h}",
            "{due_h} = {early_h} − {used_h}",
        ],
        example: &[("used_h", "320"), ("life_h", "700")],
        against: "",
    },
    inputs: &[
        hours("used_h", "used so far").needed(),
        hours("life_h", "usual life").range(1.0, 100_000.0).needed(),
        plain("harsh_ratio", "so many times harsher than usual", 1.0, 20.0).usual(1.0),
        hours("lives_h", "lives seen here")
            .range(0.1, 100_000.0)
            .list(3, 1, 100),
        hours("week_h", "hours a week")
            .range(0.0, 168.0)
            .usual(20.0),
        hours("job_h", "hours of the next print").range(0.0, 10_000.0),
        whole("machines", "machines with such a part", 1.0, 500.0).usual(1.0),
        plain("delivery_weeks", "weeks until a new one comes", 0.0, 52.0).usual(1.0),
    ],
    reckon,
};

/// Lives the book counts for.
const BOOK: f64 = 3.0;
/// Squared spread of a life by the book, as a logarithm.
const BOOK_SPREAD: f64 = 0.16;
/// One in ten fails before this many spreads.
const ONE_IN_TEN: f64 = 1.2816;
/// One time in twenty more is needed before the next comes.
const ONE_IN_TWENTY: f64 = 1.645;

/// # Formula
/// Lives are lognormal about M = (3·book + Σ lives)/(3 + n); their spread from the lives seen and
/// three of the book with 0.4. Order at λ + 1.645·√λ parts, λ those that fail before delivery.
fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let (used, week, lives) = (g.num("used_h"), g.num("week_h"), g.list("lives_h"));
    let n = lives.len() as f64;
    let seen: f64 = lives.iter().sum();
    let life = (BOOK * g.num("life_h") / g.num("harsh_ratio") + seen) / (BOOK + n);
    let logs: Vec<f64> = lives.iter().map(|v| v.ln()).collect();
    let squares = match logs.is_empty() {
        true => 0.0,
        false => logs.iter().map(|l| (l - mean(&logs)).powi(2)).sum(),
    };
    let freedom = if lives.is_empty() {
        BOOK
    } else {
        BOOK + n - 1.0
    };
    let spread = ((BOOK * BOOK_SPREAD + squares) / freedom).sqrt();
    let early = life * (-ONE_IN_TEN * spread).exp();
    let due = early - used;
    if due <= 0.0 {
        o.warn("overdue: one in ten fails before this age");
    }
    if !lives.is_empty() {
        o.few(lives.len(), 3);
    }
    o.num("life_h", life, 1.0);
    o.num("early_h", early, 1.0);
    o.num("left_h", life - used, 1.0);
    o.num("due_h", due, 1.0);
    o.maybe("due_weeks", (week > 0.0).then(|| due / week), 0.1);
    let failed = |t: f64| {
        if t > 0.0 {
            phi((t / life).ln() / spread)
        } else {
            0.0
        }
    };
    if let Some(job) = g.maybe("job_h").filter(|j| *j > 0.0) {
        let still = (1.0 - failed(used)).max(1e-12);
        let next = (failed(used + job) - failed(used)) / still;
        o.num("fail_next_percent", 100.0 * next, 0.1);
    }
    let before = g.num("machines") * week * g.num("delivery_weeks") / life;
    o.num(
        "reorder_at",
        ceil(before + ONE_IN_TWENTY * before.sqrt()),
        0.0,
    );
    o.result = format!(
        "about {} h left of {} h; due in {} h",
        show(life - used, 1.0),
        show(life, 1.0),
        show(due, 1.0)
    );
    Ok(())
}

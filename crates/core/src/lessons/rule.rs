//! One rule of learning by name: what is given as JSON, what follows as JSON. For worked examples,
//! and for whoever wants to check a figure.

mod asked;

use super::worth;
use crate::case::Outcome;
use crate::learning::cures::{Use, cures, link};
use crate::learning::hold::{Holding, Holds, Watched};
use crate::learning::proof::{self, clean_prints};
use crate::learning::rates::{Cell, Rates, fading};
use crate::learning::wear::Life;
use crate::learning::{calibration, rates, share};
use crate::nearest::hint;
use asked::{Refused, bounded, fraction, read, whole};
use serde_json::{Map, Value, json};
use std::collections::{BTreeMap, BTreeSet};

/// Every rule by name, with what it tells.
pub const RULES: [(&str, &str); 16] = [
    ("proof", "clean prints that prove a fix"),
    ("shares", "silence over prints that count in part"),
    ("hours", "hours of clean printing that prove a fix"),
    ("improved", "chance that it strikes less often"),
    ("clean", "evidence of clean prints"),
    ("back", "evidence of clean prints and a return"),
    ("hold", "chance that fixes hold"),
    ("credit", "how much of a record counts"),
    ("rates", "how often causes strike a machine"),
    ("cures", "chance that a fix cures"),
    ("link", "chances of a finding's states"),
    ("wear", "how long a part lives"),
    ("stock", "pieces to keep in stock"),
    ("calibration", "whether the advice is too sure"),
    ("rests", "whether learning rests"),
    ("spent", "minutes spent against the check-list's"),
];

/// Answers a rule.
///
/// # Errors
/// One line: what was wrong, where, and what would do.
pub fn answer(rule: &str, given: &Value) -> Result<Value, String> {
    let answered = match rule {
        "proof" => proven(read(given)?),
        "shares" => shares(read(given)?),
        "hours" => hours(read(given)?),
        "improved" => improved(read(given)?),
        "clean" => clean(read(given)?),
        "back" => back(read(given)?),
        "hold" => hold(read(given)?),
        "credit" => credit(read(given)?),
        "rates" => of_rates(read(given)?),
        "cures" => cured(read(given)?),
        "link" => linked(read(given)?),
        "wear" => wear(read(given)?),
        "stock" => stock(read(given)?),
        "calibration" => calibrated(read(given)?),
        "rests" => rests(read(given)?),
        "spent" => spent(read(given)?),
        other => {
            let known = RULES.iter().map(|(name, _)| *name);
            return Err(format!("no rule `{other}`{}", hint(other, known)));
        }
    };
    answered.map_err(|Refused(why)| why)
}

type Answered = Result<Value, Refused>;

fn proven(given: asked::Proof) -> Answered {
    let cures = given.cures()?;
    let share = given.strikes.read()?.share();
    let prints = share.prints_needed(cures);
    let silent = share.silent(prints);
    Ok(json!({
        "a": share.a, "b": share.b, "prints": prints, "silent": silent,
        "still_there": proof::still_there(silent, cures),
    }))
}

fn shares(given: asked::Shares) -> Answered {
    let share = given.strikes.read()?.share();
    let latest = bounded("latest_h", given.latest_h, 0.0, 1e6)?;
    let seen = whole("seen", given.seen, 1.0)?;
    let mut shares = Vec::new();
    for hours in &given.prints_h {
        let hours = bounded("prints_h", *hours, 0.0, 1e6)?;
        shares.push(proof::exposure(hours, latest, seen));
    }
    Ok(json!({ "silent": share.silent_over(&shares), "shares": shares }))
}

fn hours(given: asked::Hours) -> Answered {
    let cures = fraction("cures", given.cures.unwrap_or(0.9))?;
    let strikes = whole("strikes", given.strikes, 1.0)?;
    let hours = bounded("hours", given.hours, 1e-6, 1e6)?;
    Ok(json!({
        "hours_needed": proof::hours_needed(strikes, hours, proof::most_silence(cures)),
        "silent_at_10": proof::silent_hours(strikes, hours, 10.0),
    }))
}

fn improved(given: asked::Improved) -> Answered {
    let share = given.strikes.read()?.share();
    let [k, n] = given.after;
    let (k, n) = (whole("after", k, 0.0)?, whole("after", n, 0.0)?);
    if k > n {
        return Err(Refused(format!("`after`: {k} strikes in {n} prints")));
    }
    Ok(json!({ "struck_less": share.struck_less(k, n) }))
}

fn clean(given: asked::Clean) -> Answered {
    let share = given.strikes.read()?.share();
    let weights = clean_prints(share, whole("clean", given.clean, 0.0)?);
    weighed(weights, fraction("k", given.k)?)
}

fn back(given: asked::Back) -> Answered {
    let share = given.strikes.read()?.share();
    let days = (
        bounded("day", given.day, 0.0, 1e5)?,
        bounded("since", given.since, 0.0, 1e5)?,
    );
    let rate = bounded("rate", given.rate, 0.0, 1e3)?;
    let weights = proof::came_back(share, whole("clean", given.clean, 0.0)?, days, rate);
    weighed(weights, fraction("k", given.k)?)
}

fn weighed(weights: proof::Weights, k: f64) -> Answered {
    let decibans = proof::decibans(weights, k);
    Ok(json!({ "weights": weights, "decibans": decibans }))
}

fn hold(given: asked::Hold) -> Answered {
    let watched = |name: &'static str, all: Vec<(f64, bool)>| -> Result<Vec<Watched>, Refused> {
        let one = |(day, returned)| {
            let day = bounded(name, day, 0.0, 1e5)?;
            Ok(Watched { day, returned })
        };
        all.into_iter().map(one).collect()
    };
    let shop = Holding::default().and(watched("shop", given.shop)?);
    let own = shop.of_a_fix().and(watched("own", given.own)?);
    let told = |Holds { chance, low, high }| [chance, low, high];
    Ok(json!({
        "shop": told(shop.holds(90.0)), "own": told(own.holds(90.0)),
        "own_30": own.holds(30.0).chance,
    }))
}

fn credit(given: asked::Credit) -> Answered {
    for p in given.book.values() {
        fraction("book", *p)?;
    }
    let recorded = given.book.get(&given.recorded).copied().unwrap_or(0.0);
    let others = given.book.iter().filter(|(c, _)| **c != given.recorded);
    let others: Vec<f64> = others.map(|(_, p)| *p).collect();
    let credit = match given.recorded.as_str() {
        "unlisted" => 0.0,
        _ => rates::credit(recorded, others),
    };
    Ok(json!({ "credit": credit }))
}

fn of_rates(given: asked::Rates) -> Answered {
    asked::weights("book", &given.book)?;
    let mut names: BTreeSet<&str> = given.book.keys().map(String::as_str).collect();
    for case in &given.cases {
        asked::weights("cases.book", &case.book)?;
        names.extend(case.book.keys().map(String::as_str));
        names.insert(&case.recorded);
    }
    let names: BTreeMap<&str, usize> = (0..).zip(names).map(|(at, name)| (name, at)).collect();
    let vector = |book: &BTreeMap<String, f64>| {
        let mut all = vec![0.0; names.len()];
        book.iter().for_each(|(c, w)| all[names[c.as_str()]] = *w);
        all
    };
    let (mut machines, mut kinds) = (asked::Numbers::default(), asked::Numbers::default());
    let books: Vec<Vec<f64>> = given.cases.iter().map(|c| vector(&c.book)).collect();
    let mut cells = Vec::new();
    for (case, book) in given.cases.iter().zip(&books) {
        let outcome = Outcome::from_id(&case.outcome);
        let worth = outcome.map_or(0.0, |o| worth(o, case.proven.unwrap_or(true)));
        let days = bounded("cases.days", case.days, 0.0, 1e6)?;
        let counts = worth * fraction("cases.credit", case.credit)? * fading(days);
        if counts > 0.0 {
            cells.push(Cell {
                machine: machines.of(&case.machine),
                kind: kinds.of(&case.kind),
                book,
                recorded: vec![(names[case.recorded.as_str()], counts)],
            });
        }
    }
    let learned = Rates::learn(&cells);
    let (machine, kind) = (machines.of(&given.machine), kinds.of(&given.kind));
    let factor = |cause: &str| {
        let dangerous = given.dangerous.iter().any(|d| d == cause);
        learned.factor(names[cause], machine, kind, dangerous)
    };
    let moved: Vec<(&String, f64, f64)> = given
        .book
        .iter()
        .map(|(c, w)| (c, factor(c), w * factor(c)))
        .collect();
    let sum: f64 = moved.iter().map(|(.., w)| w).sum();
    let told = moved
        .into_iter()
        .map(|(c, factor, w)| (c.clone(), json!({ "rate": w / sum, "factor": factor })));
    Ok(Value::Object(told.collect()))
}

fn cured(given: asked::Cures) -> Answered {
    let book = fraction("k", given.k)?;
    let mut uses = Vec::new();
    for (weight, success) in &given.uses {
        uses.push(Use {
            weight: fraction("uses", *weight)?,
            success: fraction("uses", *success)?,
        });
    }
    Ok(json!({ "cures": cures(book, uses) }))
}

fn linked(given: asked::Link) -> Answered {
    let (mut book, mut seen) = (Vec::new(), Vec::new());
    for (state, p) in &given.states {
        book.push(fraction("states", *p)?);
        let looks = given.seen.get(state).copied().unwrap_or(0.0);
        seen.push(bounded("seen", looks, 0.0, 1e9)?);
    }
    if let Some(state) = given.seen.keys().find(|s| !given.states.contains_key(*s)) {
        return Err(Refused(format!("`seen`: `states` has no {state}")));
    }
    let moved = given.states.keys().cloned().zip(link(&book, &seen));
    let moved: Map<String, Value> = moved.map(|(s, p)| (s, json!(p))).collect();
    Ok(Value::Object(moved))
}

fn wear(given: asked::Wear) -> Answered {
    let usual = bounded("usual", given.usual, 1.0, 1e6)?;
    for hours in given.ended.iter().chain(&given.running) {
        bounded("hours of a part", *hours, 0.0, 1e6)?;
    }
    let life = Life::of(usual, (&given.ended, &given.running), (&[], &[]));
    let t = given.t.map(|t| bounded("t", t, 0.0, 1e6)).transpose()?;
    let now = t.unwrap_or(0.0);
    let due = [0.2, 0.5, 0.8].map(|q| life.due(now, q));
    Ok(json!({
        "a": life.a, "b": life.b, "worn": life.worn(now), "factor": life.factor(t),
        "due": due,
    }))
}

fn stock(given: asked::Stock) -> Answered {
    let life = Life {
        a: bounded("a", given.a, 1.0, 1e6)?,
        b: bounded("b", given.b, 1.0, 1e15)?,
    };
    for (hours, rate) in &given.machines {
        bounded("machines", *hours, 0.0, 1e6)?;
        bounded("machines", *rate, 0.0, 168.0)?;
    }
    let weeks = bounded("weeks", given.weeks, 0.0, 520.0)?;
    Ok(json!({ "reorder_at": life.reorder_at(&given.machines, weeks) }))
}

fn calibrated(given: asked::Calibration) -> Answered {
    let mut leaders = Vec::new();
    for (p, right) in &given.leaders {
        leaders.push((fraction("leaders", *p)?, *right > 0.5));
    }
    let none = || Refused("`leaders`: at least one with a chance is wanted".into());
    let z = calibration::too_sure(&leaders).ok_or_else(none)?;
    let right = leaders.iter().filter(|(_, right)| *right).count();
    let right = share(right as f64, leaders.len() as f64).ok_or_else(none)?;
    Ok(json!({ "z": z, "right": [right.share, right.low, right.high] }))
}

fn rests(given: asked::Rests) -> Answered {
    let mut pairs = Vec::new();
    for ((learned, book), times) in given.pairs {
        let pair = (fraction("pairs", learned)?, fraction("pairs", book)?);
        let times = bounded("pairs", times, 0.0, 1e6)? as usize;
        pairs.extend(std::iter::repeat_n(pair, times));
    }
    let (sum, rests) = calibration::rests(&pairs, given.resting);
    Ok(json!({ "sum": sum, "rests": rests }))
}

fn spent(given: asked::Spent) -> Answered {
    for (spent, listed) in &given.pairs {
        bounded("pairs", *spent, 0.0, 1e6)?;
        bounded("pairs", *listed, 0.0, 1e6)?;
    }
    let ratio = calibration::spent_ratio(&given.pairs);
    ratio
        .map(|ratio| json!({ "ratio": ratio }))
        .ok_or_else(|| Refused("`pairs`: two cases and more are wanted".into()))
}

//! A practice case looked back on: what it was, what was done, what each step cost against the
//! advice, what one believed.

use super::known::words as known_words;
use super::open::OpenPractice;
use crate::drawing::share_bar;
use crate::page_error::PageError;
use crate::pages::parts::link::Link;
use crate::show;
use crate::state::AppState;
use crate::urls;
use crate::words::practice as words;
use askama::Template;
use suspect_core::knowledge::{CauseId, Knowledge};
use suspect_core::planning::Action;
use suspect_rehearsal::practice::{
    Act, Answered, Desk, End, Judged, Paid, Play, Result as Came, log_score,
};

/// A step as it is looked back on.
pub struct StepLine {
    pub did: String,
    pub came: String,
    pub advised: String,
    pub same: bool,
    /// Minutes; empty where it cost nothing.
    pub cost: String,
    pub led: String,
}

/// A bar of minutes.
pub struct Bar {
    pub who: &'static str,
    pub minutes: String,
    pub drawing: String,
    /// What else was paid.
    pub rest: String,
}

/// What would have happened on a real machine, and where the handbook says so.
pub struct Warned {
    pub words: String,
    pub href: String,
    pub link: String,
}

/// What was believed, and its score.
pub struct Belief {
    pub when: &'static str,
    pub shares: String,
    pub score: String,
}

#[derive(Template)]
#[template(path = "practice/debrief.html")]
struct DebriefPage {
    level: &'static str,
    passed: bool,
    ended: &'static str,
    causes: Vec<(Link, String)>,
    wrong: Option<String>,
    warned: Option<Warned>,
    bars: Vec<Bar>,
    score: String,
    misread: String,
    steps: Vec<StepLine>,
    beliefs: Vec<Belief>,
    /// The case of the past and what was really done.
    past: Option<(String, Vec<String>)>,
    seed: String,
}

/// The page.
pub(super) fn page(state: &AppState, open: &OpenPractice) -> Result<String, PageError> {
    let k = &state.knowledge;
    let desk = Desk::new(k, &open.workshop, &open.case);
    let mut play = Play::new(&desk);
    let mut steps = Vec::new();
    for (act, judged) in &open.done {
        let answered = play.act(act);
        if !matches!(act, Act::Believe(_)) {
            steps.push(step(k, act, &answered, judged));
        }
    }
    let came: Option<Came> = open
        .row
        .result
        .clone()
        .and_then(|r| serde_json::from_value(r).ok());
    let came = came.ok_or(PageError::Broken)?;
    let cause = |c: &CauseId| {
        let cause = k.cause(*c);
        let link = Link {
            href: urls::suspect(&cause.id),
            name: cause.name.clone(),
        };
        (link, cause.mechanism.clone())
    };
    let wrong = open.case.wrong.and_then(|f| {
        let told = open.case.told.findings.get(&f)?.answer.state()?;
        Some(known_words(k, f, told))
    });
    let page = DebriefPage {
        level: words::level_short(open.case.level),
        passed: open.row.passed,
        ended: words::ended(open.row.ended.as_deref().unwrap_or_default()),
        causes: open.case.acting.iter().map(cause).collect(),
        wrong,
        warned: play.end.and_then(|end| warned(k, end)),
        bars: bars(&came, &open.workshop.currency),
        score: words::score(came.score()),
        misread: misread(&came),
        steps,
        beliefs: beliefs(k, open),
        past: open
            .case
            .past
            .as_ref()
            .map(|p| (p.label.clone(), p.done.clone())),
        seed: match open.case.past {
            Some(_) => String::new(),
            None => open.case.seed.to_string(),
        },
    };
    Ok(page.render()?)
}

/// Readings that were misread; nothing where none was.
fn misread(came: &Came) -> String {
    match came.misread {
        0 => String::new(),
        1 => "1 reading misread".to_string(),
        n => format!("{n} readings misread"),
    }
}

/// Minutes as bars, what else was paid in words.
fn bars(came: &Came, currency: &str) -> Vec<Bar> {
    let you = Paid {
        minutes: came.minutes,
        money: came.money,
        wrong_fixes: came.wrong_fixes,
    };
    let all = [
        ("You", you),
        ("The advice, with the same luck", came.advice),
        ("The checklist, with the same luck", came.checklist),
    ];
    let most = all.iter().map(|(_, p)| p.minutes).fold(1.0, f64::max);
    let bar = |(who, paid): (&'static str, Paid)| Bar {
        who,
        minutes: show::minutes(paid.minutes),
        drawing: share_bar::svg(paid.minutes / most, None),
        rest: rest(paid, currency),
    };
    all.map(bar).into()
}

/// Fixes in vain, and money where any was paid.
fn rest(paid: Paid, currency: &str) -> String {
    let fixes = match paid.wrong_fixes {
        0 => "no fix in vain".to_string(),
        1 => "1 fix in vain".to_string(),
        n => format!("{n} fixes in vain"),
    };
    let money = show::money(paid.money, currency).map(|m| format!(", {m}"));
    fixes + &money.unwrap_or_default()
}

/// A thing that the advice or the trainee did, in words.
fn named(k: &Knowledge, id: &str) -> String {
    match id.split_once('/') {
        Some(("check", id)) => k
            .check_id(id)
            .map_or(id.into(), |c| k.check(c).work.name.clone()),
        Some(("fix", id)) => k
            .fix_id(id)
            .map_or(id.into(), |x| k.fix(x).work.name.clone()),
        _ if id == "stop" => "Make the machine safe".into(),
        _ => Action::GiveUp.name(k).into(),
    }
}

fn step(k: &Knowledge, act: &Act, answered: &Answered, judged: &Judged) -> StepLine {
    let (did, id) = match act {
        Act::Ask(id) => {
            let asked = k.finding_id(id).map(|f| k.finding(f).question.clone());
            (asked.unwrap_or_else(|| id.clone()), String::new())
        }
        Act::Check(id, _) => {
            let id = format!("check/{id}");
            (named(k, &id), id)
        }
        Act::Fix(id, _) => {
            let id = format!("fix/{id}");
            (named(k, &id), id)
        }
        Act::Read(value) => (format!("Read {}", show::exact(*value)), String::new()),
        Act::Stop => (named(k, "stop"), "stop".into()),
        Act::Ordinary => ("Called it ordinary".into(), "ordinary".into()),
        Act::GiveUp | Act::Believe(_) => ("Gave up".into(), "give-up".into()),
    };
    let came = match answered {
        Answered::State(f, state) => k.finding(*f).states[*state].phrase.clone(),
        Answered::Fixed(_, result) => crate::words::outcome::result(*result).to_string(),
        Answered::Read(r, right) => match right {
            true => "read rightly".into(),
            false => format!("it showed {}", show::with_unit(r.value, r.unit)),
        },
        _ => String::new(),
    };
    let led = judged.leaders.iter().filter_map(|(id, p)| {
        let cause = k.cause(k.cause_id(id)?);
        Some(format!("{} {}", cause.name, show::percent(*p)))
    });
    StepLine {
        did,
        came,
        same: judged.advised == id,
        advised: named(k, &judged.advised),
        cost: match judged.cost {
            c if c < 0.5 => String::new(),
            c => format!("+{}", show::minutes(c)),
        },
        led: led.collect::<Vec<_>>().join(", "),
    }
}

/// Soberly, what would have happened.
fn warned(k: &Knowledge, end: End) -> Option<Warned> {
    Some(match end {
        End::Harm(stop) | End::Overlooked(stop) => {
            let stop = &k.stops[stop];
            let began = match end {
                End::Harm(_) => "Work went on while this held the machine",
                _ => "The machine was left as it was, and this held it",
            };
            Warned {
                words: format!("{began}: {}. {}", stop.name, stop.why),
                href: urls::CAUTIONS.into(),
                link: "Stops and cautions in the handbook".into(),
            }
        }
        End::Hands(action) => {
            let work = action.work(k)?;
            let first = work.ready.first().or(work.cautions.first());
            let caution = first.map_or("", |c| k.cautions[*c].text.as_str());
            let href = match action {
                Action::Check(check) => urls::handbook_check(k.check_name(check)),
                Action::Fix(fix) => urls::handbook_fix(&k.fix(fix).id),
                _ => urls::CAUTIONS.into(),
            };
            Warned {
                words: format!(
                    "“{}” is done with the machine switched off and the plug out. Begun as it \
                     stood, hands were in it under power: a finger caught, a burn, a shorted \
                     board. {caution}",
                    work.name
                ),
                href,
                link: "The procedure in the handbook".into(),
            }
        }
        _ => return None,
    })
}

fn beliefs(k: &Knowledge, open: &OpenPractice) -> Vec<Belief> {
    let mut when = ["At the beginning", "Once more"].into_iter();
    let of = |act: &Act| {
        let Act::Believe(shares) = act else {
            return None;
        };
        let names = open.case.asked.iter().map(|c| k.cause(*c).name.as_str());
        let each = names.chain(["somebody else"]).zip(shares);
        let each = each.map(|(name, s)| format!("{name} {}", show::percent(*s)));
        Some(Belief {
            when: when.next()?,
            shares: each.collect::<Vec<_>>().join(", "),
            score: show::hundredths(log_score(&open.case, shares)),
        })
    };
    open.acts().filter_map(of).collect()
}

//! One step of a demo case, as a line of words.

use anyhow::{Context, Result, bail};
use suspect_core::case::{Event, HeldAnswer, Lost, Outcome, Shows, Struck};
use suspect_core::evidence::Confidence;
use suspect_core::knowledge::Knowledge;
use suspect_core::picture::{Mark, MarkKind};
use suspect_store::Uuid;
use time::Duration;

/// The words of a step, one after the other.
struct Words<'a>(std::str::SplitWhitespace<'a>);

impl Words<'_> {
    fn next(&mut self) -> Result<String> {
        let word = self.0.next().map(str::to_string);
        word.context("a word is missing")
    }

    fn number(&mut self) -> Result<f64> {
        Ok(self.next()?.parse()?)
    }

    fn rest(&mut self) -> String {
        self.0.by_ref().collect::<Vec<_>>().join(" ")
    }
}

pub fn observed(fact: &str) -> Result<Event> {
    let (finding, state) = fact.split_once('=').context("a fact is FINDING=STATE")?;
    let (state, confidence) = match state.split_once(':') {
        Some((state, word)) => (
            state,
            Confidence::from_id(word).context("unknown confidence")?,
        ),
        None => (state, Confidence::Sure),
    };
    Ok(Event::Observed {
        finding: finding.into(),
        state: state.into(),
        confidence,
        asked: false,
    })
}

/// "+6 check watch-gear both-turn": how long after the step before, and what happened. `pictures`
/// are those of the case.
pub fn read_step(
    knowledge: &Knowledge,
    pictures: &[Uuid],
    step: &str,
) -> Result<(Duration, Event)> {
    let mut words = Words(step.split_whitespace());
    let wait = words.next()?;
    let wait = wait.trim_start_matches('+');
    let (wait, minutes) = match wait.strip_suffix('d') {
        Some(days) => (Duration::days(days.parse()?), 0.0),
        None => (Duration::minutes(wait.parse()?), wait.parse::<f64>()?),
    };
    let event = match words.next()?.as_str() {
        "check" => check(knowledge, &mut words, minutes)?,
        "fix" => fix(knowledge, &mut words, minutes)?,
        "print" => Event::Printed {
            result: words.next()?.parse()?,
            grams: words.number()?,
            minutes: 4.0,
            hours: None,
        },
        "struck" => Event::Struck(struck(&mut words)?),
        "lost" => Event::Lost(lost(&mut words)?),
        "held" => Event::AskedAgain {
            answer: words.next()?.parse::<HeldAnswer>()?,
        },
        "observe" => Event::Observed {
            finding: words.next()?,
            state: words.next()?,
            confidence: Confidence::Sure,
            asked: false,
        },
        "mark" => mark(pictures, &mut words)?,
        "suggest" => Event::Suggested {
            by: words.next()?.replace('-', " "),
            cause: None,
            check: Some(words.next()?),
            text: words.rest(),
        },
        "note" => Event::Noted { text: words.rest() },
        "reopen" => Event::Reopened {
            reason: words.rest(),
            after_days: None,
        },
        "close" => Event::Resolved {
            outcome: words.next()?.parse::<Outcome>()?,
            cause: Some(words.next()?),
            fix: Some(words.next()?),
            note: words.rest(),
        },
        other => bail!("unknown step {other}"),
    };
    Ok((wait, event))
}

/// "lost 6.5 84", or "lost 0.2 2 first-layer": hours, grams.
fn lost(words: &mut Words) -> Result<Lost> {
    Ok(Lost {
        hours: Some(words.number()?),
        grams: Some(words.number()?),
        first_layer: words.rest() == "first-layer",
    })
}

/// "struck every", or "struck 2 of 5 after-hours 3".
fn struck(words: &mut Words) -> Result<Struck> {
    let first = words.next()?;
    if first == "every" {
        return Ok(Struck::always());
    }
    let prints = first.parse()?;
    words.next()?;
    let of = words.next()?.parse()?;
    let rest = words.rest();
    let mut rest = rest.split_whitespace();
    Ok(Struck {
        prints,
        of,
        shows: rest.next().map_or(Ok(Shows::default()), str::parse)?,
        hours: rest.next().map(str::parse).transpose()?,
        ..Struck::default()
    })
}

fn check(knowledge: &Knowledge, words: &mut Words, minutes: f64) -> Result<Event> {
    let check = words.next()?;
    let id = knowledge.check_id(&check).context("unknown check")?;
    let hands_on = knowledge.check(id).work.minutes.max(1.0);
    Ok(Event::Checked {
        outcome: words.next()?,
        check,
        confidence: Confidence::Sure,
        minutes: minutes.min(hands_on),
    })
}

/// A fix, with the value before and after where it changes one: "fix lower-heat 215 °C | 205 °C".
fn fix(knowledge: &Knowledge, words: &mut Words, minutes: f64) -> Result<Event> {
    let fix = words.next()?;
    let id = knowledge.fix_id(&fix).context("unknown fix")?;
    let work = &knowledge.fix(id).work;
    let values = words.rest();
    let mut values = values.split('|').map(str::trim).filter(|v| !v.is_empty());
    Ok(Event::Fixed {
        minutes: minutes.min(work.minutes + 5.0),
        money: work.money,
        fix,
        before: values.next().map(str::to_string),
        after: values.next().map(str::to_string),
        together: false,
    })
}

fn mark(pictures: &[Uuid], words: &mut Words) -> Result<Event> {
    let n = words.next()?.parse::<usize>()?;
    let picture = n.checked_sub(1).and_then(|n| pictures.get(n));
    let picture = picture.context("no such picture")?.to_string();
    let kind: MarkKind = words.next()?.parse()?;
    let (x, y) = (words.number()?, words.number()?);
    let (to_x, to_y) = (words.number()?, words.number()?);
    let text = words.rest();
    let mark = Mark {
        kind,
        x,
        y,
        to_x,
        to_y,
        text,
    };
    let marks = vec![mark];
    Ok(Event::Marked { picture, marks })
}

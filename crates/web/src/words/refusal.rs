//! Refusals in words: what was wrong, which value, what would do. The one place where pages word
//! them; the core says them in data.

use crate::show;
use suspect_core::case::{Holder, Holding, NotNow, Problem, Refusal, Stopped};
use suspect_core::knowledge::Knowledge;
use suspect_core::nearest::short;
use suspect_core::planning::{Rate, RateProblem};
use suspect_core::settings::NumberProblem;
use suspect_core::text::TextProblem;

/// A refusal as a sentence or two.
pub fn refusal(k: &Knowledge, refusal: &Refusal) -> String {
    match refusal {
        Refusal::Invalid { field, problem: p } => problem(field, p),
        Refusal::NotNow(why) => not_now(k, why),
        Refusal::Stopped { stop, why } => stopped(k, stop, *why),
        Refusal::Locked { lock } => {
            let holder = match lock.holder {
                Holder::Case { .. } => "by another case",
                Holder::Build => "because of how it is built",
            };
            format!(
                "The machine is locked {holder}: {}. Nothing is done on it until that stop is \
                    lifted.",
                k.stops[lock.stop].name
            )
        }
    }
}

/// What is wrong with the value of a field.
pub fn problem(field: &str, problem: &Problem) -> String {
    match problem {
        Problem::Text(text) => words_of(field, text),
        Problem::Number(number) => self::number(number),
        Problem::Amount { given, most } => show::sentence(&format!(
            "{field} must be a number between 0 and {most}, but {given} was given"
        )),
        Problem::Full { holding, most } => full(*holding, *most),
        Problem::NotProved => {
            "No print has proved it yet: print and compare first, or close it as \
                               believed fixed, not proved."
                .into()
        }
        Problem::NotImproved => {
            "Nothing shows yet that it is better: print and compare until two prints were a step \
             better than the one you kept, or until it strikes less often than before."
                .into()
        }
        Problem::Taken(who) => {
            let who = crate::screen::shown(who);
            format!("{who} took this already: they can hand it over.")
        }
        Problem::TooManyAtOnce { many, most } => {
            format!("{many} entries at once are too many: at most {most}. Send them in parts.")
        }
        Problem::Day { given, last, .. } if given > last => format!(
            "{given} has not come yet. Write down what has been done, with a day up to {last}."
        ),
        other => show::sentence(&other.to_string()),
    }
}

/// What is wrong with a number.
pub fn number(problem: &NumberProblem) -> String {
    show::sentence(&problem.to_string())
}

/// What is wrong with a rate of the workshop.
pub fn rate(problem: &RateProblem) -> String {
    let RateProblem {
        plain,
        unit,
        least,
        most,
        given,
    } = problem;
    let plain = plain.to_lowercase();
    show::sentence(&format!(
        "\"{plain}\" must lie between {least} and {most} {unit}, but {given} was given"
    ))
}

/// What was given for a rate and is no number.
pub fn no_rate(rate: &Rate, given: &str) -> String {
    let (plain, given) = (rate.plain.to_lowercase(), short(given));
    show::sentence(&format!(
        "\"{plain}\" must be a number, but \"{given}\" was given"
    ))
}

/// What is wrong with a text of a field.
pub fn words_of(field: &str, problem: &TextProblem) -> String {
    let name = name_of(field);
    match problem {
        TextProblem::Missing => match field {
            "by" => "Give your name: it stands in the record.".into(),
            "reason" => "Give the reason in words: it stands in the record.".into(),
            "told" => "Nothing was written: a few words will do.".into(),
            "note" => "The note is empty: write a word.".into(),
            _ => format!("{name} is missing."),
        },
        TextProblem::TooLong { length, most } => match field {
            "note" | "told" | "text" => format!(
                "{name} has {length} characters: at most {most} fit. Shorten it or send it in \
                    parts."
            ),
            _ => format!("{name} has {length} characters: at most {most} fit."),
        },
        other => format!("{name} {other}."),
    }
}

/// A field as a person calls it, at the begin of a sentence.
fn name_of(field: &str) -> String {
    match field {
        "by" | "name" => "The name".into(),
        "note" => "The note".into(),
        "told" | "text" => "What you wrote".into(),
        "reason" => "The reason".into(),
        "title" => "The title".into(),
        "spool" => "The spool".into(),
        "machine" => "The machine's name".into(),
        "model" => "The kind".into(),
        "place" => "The place".into(),
        "before" => "The value before".into(),
        "after" => "The value now".into(),
        "part" => "The part".into(),
        "marks" => "What stands at a mark".into(),
        other => show::capital(other),
    }
}

fn full(holding: Holding, most: usize) -> String {
    let (what, instead) = match holding {
        Holding::Pictures => ("pictures", "take one back first"),
        Holding::Files => ("print files", "take one back first"),
        Holding::Tellings => ("tellings", "put the rest into a note"),
        Holding::Tries => ("tries", "put the rest into a note"),
        Holding::OwnWords => ("checks and fixes of your own", "put the rest into a note"),
        Holding::OwnOutcomes => ("outcomes of one check", "leave the rest out"),
        Holding::OpenSuggestions => (
            "suggestions that wait for an answer",
            "somebody at the machine answers some of them first",
        ),
    };
    format!("This case holds {most} {what} already: {instead}.")
}

fn not_now(k: &Knowledge, why: &NotNow) -> String {
    match why {
        NotNow::ProofFirst(fix) => format!(
            "One change at a time: print and judge \"{}\" first.",
            k.fix(*fix).work.name
        ),
        NotNow::LinksTaken(most) => {
            format!("{most} links to this case work already: revoke one first.")
        }
        other => show::sentence(&other.to_string()),
    }
}

fn stopped(k: &Knowledge, stop: &str, why: Stopped) -> String {
    let known = k.stop_at(stop).map(|at| k.stops[at].name.as_str());
    let name = known.unwrap_or(stop);
    match why {
        Stopped::Held => {
            format!("The machine is locked: {name}. Clear the stop before anything else.")
        }
        Stopped::WouldLift => format!(
            "This would lift the stop \"{name}\": a named person lifts it, with the reason. A slip \
             is a reason, too."
        ),
        Stopped::WouldEnd => format!(
            "This would end the stop \"{name}\": a named person does that, with the reason."
        ),
    }
}

//! `usual-suspect practice`: a made-up case solved in a terminal, and known ways rehearsed on many.

use anyhow::{Result, bail};
use clap::{Args, Subcommand};
use std::fmt::Write as _;
use std::io::{BufRead, Write};
use std::num::NonZeroUsize;
use std::process::ExitCode;
use suspect_core::evidence::Evidence;
use suspect_core::knowledge::{CauseId, Family, Knowledge};
use suspect_core::planning::Workshop;
use suspect_core::ranking::posterior;
use suspect_rehearsal::practice::{
    Act, Answered, Begun, Desk, End, Judged, LEVELS, Level, Play, PracticeCase, PracticeReport,
    Wanted, draw, result, seed_of, step, ways,
};

/// Most cases of a level.
const MOST_CASES: usize = 20_000;
/// Suspects named by `who`.
const NAMED: usize = 5;
const HELP: &str = "\
ask SIGN         is it seen?              signs [WORD]    signs by name
check CHECK      do a check               checks [WORD]   checks by name
fix FIX          apply it and print       fixes [WORD]    fixes by name
  … off          with the machine switched off and unplugged first
read NUMBER      what the instrument shows
stop             make the machine safe    who             the suspects, by what is known
ordinary         nothing is wrong here    told            what is known so far
end              give up; the debriefing follows
";

#[derive(Args)]
pub struct Options {
    #[command(subcommand)]
    command: Option<Command>,
    /// A whole number of any length. The same seed is the same case for everyone.
    #[arg(long, default_value = "1")]
    seed: String,
    /// clear, messy, popular-wrong, two-causes, nothing-wrong or dangerous.
    #[arg(long, default_value = "clear")]
    level: String,
    /// Only culprits of this family: path, hotend, bed …
    #[arg(long)]
    family: Option<String>,
}

#[derive(Subcommand)]
enum Command {
    /// Let the advice, the checklist, probability order and chance play many cases of each level.
    Rehearse {
        /// Cases of each level.
        #[arg(long, default_value_t = 500)]
        cases: usize,
        /// The first seed.
        #[arg(long, default_value_t = 1)]
        seed: u64,
        /// Print the figures as JSON.
        #[arg(long)]
        json: bool,
    },
}

pub fn run(options: &Options) -> Result<ExitCode> {
    let knowledge = Knowledge::shipped();
    match &options.command {
        Some(Command::Rehearse { cases, seed, json }) => rehearse(&knowledge, *cases, *seed, *json),
        None => play(&knowledge, options),
    }
}

fn rehearse(knowledge: &Knowledge, cases: usize, seed: u64, json: bool) -> Result<ExitCode> {
    if !(1..=MOST_CASES).contains(&cases) {
        bail!("--cases must lie between 1 and {MOST_CASES}, but {cases} was given");
    }
    let threads = std::thread::available_parallelism().unwrap_or(NonZeroUsize::MIN);
    let report = ways(knowledge, &Workshop::default(), (cases, seed), threads);
    crate::print_out(&match json {
        true => serde_json::to_string_pretty(&report)? + "\n",
        false => told(&report),
    })?;
    Ok(ExitCode::SUCCESS)
}

fn told(report: &[PracticeReport]) -> String {
    let mut text = format!("{:15} {:>6}", "level", "cases");
    let names = report.first().map_or(&[][..], |r| &r.ways);
    for way in names {
        let _ = write!(text, " {:>18}", way.name);
    }
    text.push('\n');
    for level in report {
        let _ = write!(text, "{:15} {:>6}", level.level.id(), level.cases);
        for way in &level.ways {
            let _ = write!(text, " {:>9.1} ({:+6.1})", way.minutes, way.score);
        }
        text.push('\n');
    }
    text + "counted minutes a case; in brackets the score, minutes above the advice\n"
}

fn play(knowledge: &Knowledge, options: &Options) -> Result<ExitCode> {
    let Some(level) = Level::from_id(&options.level) else {
        let known = LEVELS.map(Level::id).join(", ");
        bail!("--level `{}` is none: {known}", options.level);
    };
    let family = match options.family.as_deref() {
        None => None,
        Some(id) => match Family::from_id(id) {
            Some(family) => Some(family),
            None => {
                let known = Family::ALL.map(Family::id).join(", ");
                bail!("--family `{id}` is none: {known}")
            }
        },
    };
    let Some(seed) = seed_of(&options.seed) else {
        bail!("--seed `{}` is no whole number", options.seed);
    };
    let wanted = Wanted {
        family,
        ..Wanted::of(seed, level)
    };
    let case = draw(knowledge, &wanted)?;
    let workshop = Workshop::default();
    at_the_prompt(knowledge, &workshop, &case)
}

fn at_the_prompt(k: &Knowledge, workshop: &Workshop, case: &PracticeCase) -> Result<ExitCode> {
    let desk = Desk::new(k, workshop, case);
    let mut play = Play::new(&desk);
    let mut steps = Vec::new();
    let out = &mut std::io::stdout();
    writeln!(
        out,
        "Practice. Nothing here enters any record.\nA member says: “{}.”\n{HELP}",
        case.words.join("; ")
    )?;
    for line in std::io::stdin().lock().lines() {
        let line = line?;
        let (word, rest) = line.trim().split_once(' ').unwrap_or((line.trim(), ""));
        let Some(act) = act_of(word, rest) else {
            if !word.is_empty() {
                write!(out, "{}", listed(k, &play, word, rest))?;
            }
            continue;
        };
        let (answered, judged) = step(&desk, &mut play, &act);
        writeln!(out, "{}", words(k, &play, &answered))?;
        steps.extend(judged.map(|judged| (act, judged)));
        if play.end.is_some() {
            break;
        }
        let (minutes, money, _) = play.spent();
        writeln!(out, "  {minutes:.1} min, {money:.2} in money so far")?;
    }
    write!(out, "{}", debriefing(k, &desk, &play, case, &steps))?;
    Ok(ExitCode::SUCCESS)
}

/// What a line does; nothing where it only asks for a list.
fn act_of(word: &str, rest: &str) -> Option<Act> {
    let (id, begun) = match rest.strip_suffix(" off") {
        Some(id) => (id.trim().to_string(), Begun::Off),
        None => (rest.trim().to_string(), Begun::AsItStands),
    };
    Some(match word {
        "ask" => Act::Ask(id),
        "check" => Act::Check(id, begun),
        "read" => Act::Read(id.replace(',', ".").parse().unwrap_or(f64::NAN)),
        "fix" => Act::Fix(id, begun),
        "stop" => Act::Stop,
        "ordinary" => Act::Ordinary,
        "end" => Act::GiveUp,
        _ => return None,
    })
}

/// Lists: signs, checks, fixes, suspects, what is known.
fn listed(k: &Knowledge, play: &Play<'_>, what: &str, word: &str) -> String {
    let fits = |id: &str, name: &str| {
        id.contains(word) || name.to_lowercase().contains(&word.to_lowercase())
    };
    let lines: Vec<String> = match what {
        "signs" => k
            .findings
            .iter()
            .filter(|f| f.check.is_none() && fits(&f.id, &f.question))
            .map(|f| format!("{:28} {}", f.id, f.question))
            .collect(),
        "checks" => k
            .checks
            .iter()
            .map(|c| (&k.finding(c.finding).id, &c.work.name))
            .filter(|(id, name)| fits(id, name))
            .map(|(id, name)| format!("{id:28} {name}"))
            .collect(),
        "fixes" => k
            .fixes
            .iter()
            .filter(|f| fits(&f.id, &f.work.name))
            .map(|f| format!("{:28} {}", f.id, f.work.name))
            .collect(),
        "who" => suspects(k, play),
        "told" => known(k, play),
        _ => return HELP.to_string(),
    };
    lines.join("\n") + "\n"
}

fn suspects(k: &Knowledge, play: &Play<'_>) -> Vec<String> {
    let involved = posterior(k, &Evidence::of(k, play.facts()), true).involved();
    let mut all: Vec<CauseId> = k.cause_ids().collect();
    all.sort_by(|a, b| involved[b.at()].total_cmp(&involved[a.at()]));
    let line = |c: &CauseId| format!("{:4.0} %  {}", involved[c.at()] * 100.0, k.cause(*c).name);
    all.iter().take(NAMED).map(line).collect()
}

fn known(k: &Knowledge, play: &Play<'_>) -> Vec<String> {
    let told = play.facts().findings.iter().filter_map(|(f, s)| {
        let finding = k.finding(*f);
        Some(format!(
            "{:28} {}",
            finding.id,
            finding.states[s.answer.state()?].phrase
        ))
    });
    let tried = play.facts().tried.iter();
    let tried = tried.map(|t| format!("{:28} {}", k.fix(t.fix).id, t.result.id()));
    told.chain(tried).collect()
}

fn words(k: &Knowledge, play: &Play<'_>, answered: &Answered) -> String {
    match answered {
        Answered::State(f, state) => k.finding(*f).states[*state].phrase.clone(),
        Answered::Instrument(_) => match &play.waits {
            Some((_, _, r)) => format!("{}: {} {} (read it)", r.plain, r.value, r.unit),
            None => String::new(),
        },
        Answered::Read(r, true) => format!("{} {}: so it is", r.value, r.unit),
        Answered::Read(r, false) => format!("It shows {} {}", r.value, r.unit),
        Answered::Fixed(fix, result) => format!("{}: {}", k.fix(*fix).work.name, result.id()),
        Answered::Believed | Answered::Ended => String::new(),
        Answered::Again => "That was done.".into(),
        Answered::No(why) => format!("No: {why}."),
    }
}

fn ended(k: &Knowledge, end: Option<End>) -> String {
    match end {
        Some(End::Harm(stop) | End::Overlooked(stop)) => {
            let stop = &k.stops[stop];
            format!("The machine was not safe: {}. {}", stop.name, stop.why)
        }
        Some(End::Hands(action)) => format!(
            "Hands in a machine under power: “{}” wants it switched off and unplugged first.",
            action.name(k)
        ),
        Some(End::MadeSafe) => "The danger was seen in time. Whoever is competent goes on.".into(),
        Some(End::Solved) => "Solved.".into(),
        Some(End::Mistaken) => "It was called ordinary, and was not.".into(),
        Some(End::GaveUp) | None => "Not solved.".into(),
    }
}

fn paid(minutes: f64, money: f64, in_vain: usize) -> String {
    format!("{minutes:.1} min, {money:.2} in money, {in_vain} fixes in vain")
}

fn debriefing(
    k: &Knowledge,
    desk: &Desk<'_>,
    play: &Play<'_>,
    case: &PracticeCase,
    steps: &[(Act, Judged)],
) -> String {
    let names = case.acting.iter().map(|c| k.cause(*c).name.as_str());
    let names = names.collect::<Vec<_>>().join(" and ");
    let mut text = format!("\nIt was: {names}.\n{}\n", ended(k, play.end));
    let came = result(desk, play);
    let _ = writeln!(
        text,
        "{}. The advice, with the same luck: {}; the checklist: {}. Score {:+.1} min.",
        paid(came.minutes, came.money, came.wrong_fixes),
        paid(
            came.advice.minutes,
            came.advice.money,
            came.advice.wrong_fixes
        ),
        paid(
            came.checklist.minutes,
            came.checklist.money,
            came.checklist.wrong_fixes
        ),
        came.score()
    );
    for (n, (act, judged)) in steps.iter().enumerate() {
        let did = match act {
            Act::Ask(id) => format!("asked {id}"),
            Act::Check(id, _) => format!("checked {id}"),
            Act::Read(value) => format!("read {value}"),
            Act::Fix(id, _) => format!("fixed {id}"),
            Act::Believe(_) => "said what was believed".into(),
            Act::Stop => "made it safe".into(),
            Act::Ordinary => "called it ordinary".into(),
            Act::GiveUp => "gave up".into(),
        };
        let leader = judged.leaders.first();
        let (leader, p) = leader.map_or(("", 0.0), |(id, p)| (id.as_str(), p * 100.0));
        let _ = writeln!(
            text,
            "{:2}. {did}; the advice: {}. Cost {:.1} min. Then led {leader} ({p:.0} %).",
            n + 1,
            judged.advised,
            judged.cost
        );
    }
    text
}

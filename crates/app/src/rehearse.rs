//! `usual-suspect rehearse`: the advice on drawn cases, against other ways of going about them.

use anyhow::{Result, bail};
use clap::Args;
use std::num::NonZeroUsize;
use std::path::PathBuf;
use std::process::ExitCode;
use suspect_core::knowledge::Knowledge;
use suspect_core::people::Role;
use suspect_core::planning::Workshop;
use suspect_rehearsal::{self as rehearsal, Report, ShiftOptions, ShiftReport};

/// Most cases and networks drawn at a time: an hour and more of two processors.
const MOST_CASES: usize = 200_000;
const MOST_NETWORKS: usize = 20_000;

#[derive(Args)]
pub struct Options {
    /// Cases to draw.
    #[arg(long, default_value_t = 2000)]
    cases: usize,
    /// The same seed draws the same cases.
    #[arg(long, default_value_t = 1)]
    seed: u64,
    /// Let the world differ from the knowledge: standard deviation in log-odds of every
    /// probability.
    #[arg(long, default_value_t = 0.0)]
    perturb: f64,
    /// Small networks to compare with their exact optimum.
    #[arg(long, default_value_t = 100)]
    networks: usize,
    /// How many of the best steps are thought through two levels deep.
    #[arg(long, default_value_t = Workshop::default().second_level)]
    second_level: usize,
    /// Rehearse evenings instead: the plan of the shift against first come, first served.
    #[arg(long)]
    shift: bool,
    /// Evenings to draw.
    #[arg(long, default_value_t = 100, requires = "shift")]
    evenings: usize,
    /// Open cases of an evening.
    #[arg(long, default_value_t = 8, requires = "shift")]
    open: usize,
    /// Technicians, and volunteers, who are there.
    #[arg(long, num_args = 2, default_values_t = [1, 1], requires = "shift",
          value_names = ["TECHNICIANS", "VOLUNTEERS"])]
    people: Vec<usize>,
    /// Minutes there are.
    #[arg(long, default_value_t = 180.0, requires = "shift")]
    minutes: f64,
    /// Print the figures as JSON.
    #[arg(long)]
    json: bool,
    /// A knowledge folder; without it the knowledge shipped with the program.
    #[arg(long)]
    knowledge: Option<PathBuf>,
}

pub fn run(options: &Options) -> Result<ExitCode> {
    if !(1..=MOST_CASES).contains(&options.cases) {
        bail!(
            "--cases must lie between 1 and {MOST_CASES}, but {} was given",
            options.cases
        );
    }
    if options.networks > MOST_NETWORKS {
        bail!(
            "--networks must be at most {MOST_NETWORKS}, but {} was given",
            options.networks
        );
    }
    if !(0.0..=5.0).contains(&options.perturb) {
        bail!(
            "--perturb must lie between 0 and 5, but {} was given",
            options.perturb
        );
    }
    let Some(knowledge) = crate::knowledge::load(options.knowledge.as_deref())? else {
        return Ok(ExitCode::from(2));
    };
    let workshop = Workshop {
        second_level: options.second_level,
        ..Workshop::default()
    };
    if options.shift {
        return evenings(options, &knowledge, &workshop);
    }
    let asked = rehearsal::Options {
        cases: options.cases,
        seed: options.seed,
        perturb: options.perturb,
        networks: options.networks,
        threads: std::thread::available_parallelism().unwrap_or(NonZeroUsize::MIN),
    };
    let report = rehearsal::run(&knowledge, &workshop, &asked);
    crate::print_out(&if options.json {
        serde_json::to_string_pretty(&report)? + "\n"
    } else {
        told(&report, options)
    })?;
    Ok(ExitCode::SUCCESS)
}

/// Most evenings, cases of one, people.
const MOST_EVENINGS: usize = 10_000;
const MOST_OPEN: usize = 200;
const MOST_PEOPLE: usize = 40;

fn evenings(options: &Options, knowledge: &Knowledge, workshop: &Workshop) -> Result<ExitCode> {
    let counts = [
        ("--evenings", options.evenings, MOST_EVENINGS),
        ("--open", options.open, MOST_OPEN),
        ("--people", options.people.iter().sum(), MOST_PEOPLE),
    ];
    for (name, given, most) in counts {
        if !(1..=most).contains(&given) {
            bail!("{name} must lie between 1 and {most}, but {given} was given");
        }
    }
    if !(1.0..=1_440.0).contains(&options.minutes) {
        bail!(
            "--minutes must lie between 1 and 1440, but {} was given",
            options.minutes
        );
    }
    let roles = [Role::Technician, Role::Volunteer];
    let people = roles.iter().zip(&options.people);
    let asked = ShiftOptions {
        evenings: options.evenings,
        open: options.open,
        people: people.flat_map(|(role, many)| vec![*role; *many]).collect(),
        minutes: options.minutes,
        seed: options.seed,
        threads: std::thread::available_parallelism().unwrap_or(NonZeroUsize::MIN),
    };
    let report = rehearsal::shift(knowledge, workshop, &asked);
    crate::print_out(&if options.json {
        serde_json::to_string_pretty(&report)? + "\n"
    } else {
        evenings_told(&report, options)
    })?;
    Ok(ExitCode::SUCCESS)
}

fn evenings_told(report: &ShiftReport, options: &Options) -> String {
    let mut lines = vec![format!(
        "{} evenings of {} min, {} open cases each, seed {}",
        report.evenings, options.minutes, options.open, options.seed
    )];
    for way in &report.ways {
        lines.push(format!(
            "{:12} {:6.2} machine hours back, {:5.2} machines",
            way.name, way.hours_back, way.machines_back
        ));
    }
    let [low, high] = report.gain_interval;
    lines.push(format!(
        "planning gains {:.2} machine hours an evening ({low:.2} to {high:.2})",
        report.gain
    ));
    lines.join("\n") + "\n"
}

fn told(report: &Report, options: &Options) -> String {
    let mut lines = vec![format!(
        "{} cases, seed {}, world moved by {}",
        options.cases, options.seed, options.perturb
    )];
    lines.push(format!(
        "{:18} {:>9} {:>9} {:>7} {:>12} {:>9} {:>7}",
        "", "mean min", "90 % min", "steps", "wrong fixes", "cured", "money"
    ));
    for s in &report.strategies {
        lines.push(format!(
            "{:18} {:9.1} {:9.1} {:7.2} {:12.2} {:7.1} % {:7.2}",
            s.name,
            s.mean_minutes,
            s.p90_minutes,
            s.mean_steps,
            s.wrong_fixes,
            s.resolved * 100.0,
            s.mean_money
        ));
    }
    if let (Some(advice), Some(checklist)) =
        (report.strategy("advice"), report.strategy("checklist"))
    {
        lines.push(format!(
            "advice takes {:.1} % of the checklist's minutes",
            100.0 * advice.mean_minutes / checklist.mean_minutes
        ));
    }
    let small = report.small_networks;
    lines.push(format!(
        "{} small networks: {:.4} of the exact optimum, worst {:.4}",
        small.count, small.mean_ratio, small.worst_ratio
    ));
    lines.join("\n") + "\n"
}

//! What each bench stands for: `rank` is one re-rank with pairs, as after each answer,
//! `rank_learned` the same with what a shop learned;
//! `plan_one_level` and `plan` (two levels) are plans without previews; `course` follows the advice
//! to its end; `report` is all a page or `rank` on the command line asks for; `load` is start-up.

use criterion::{Criterion, criterion_group, criterion_main};
use std::hint::black_box;
use std::sync::Arc;
use suspect_core::case::{file, report};
use suspect_core::knowledge::Knowledge;
use suspect_core::learning::Learned;
use suspect_core::learning::learned::{Counted, LearnedCause};
use suspect_core::people::{Deed, Needs, Role};
use suspect_core::planning::{Present, Workshop, course, outline};
use suspect_core::ranking;
use suspect_core::shift::{self, Job, Person, Piece};

/// A case with twelve findings in the trouble "too little plastic".
const CASE: &str = r#"{ "format": "usual-suspect-case/1", "machine": { "feed": "bowden",
    "hotend": "lined", "motion": "bed-slinger" }, "material": "pla",
  "findings": [ { "id": "gaps-top-skin", "state": "present" }, { "id": "spongy-walls",
      "state": "present", "confidence": "likely" },
    { "id": "missing-layers", "state": "present" }, { "id": "extruder-clicks", "state": "absent" },
        { "id": "filament-notched", "state": "absent" },
    { "id": "spool-drags", "state": "absent" }, { "id": "onset", "state": "sudden" },
        { "id": "over-time", "state": "comes-and-goes" },
    { "id": "speed-effect", "state": "any-speed" }, { "id": "which-models", "state": "any-model" },
        { "id": "heatsink-fan", "state": "strong" },
    { "id": "push-by-hand", "state": "free" } ] }"#;

/// What a shop learned whose every third cause strikes twice as often as the book expects.
fn learned(knowledge: &Knowledge) -> Learned {
    let level = |n: f64| Counted { n, expected: 2.0 };
    let of = |at: usize| LearnedCause {
        factor: if at.is_multiple_of(3) { 2.0 } else { 0.9 },
        wear: 1.0,
        quirk: 1.0,
        machine: level(3.0),
        kind: level(4.0),
        shop: level(6.0),
    };
    let causes = (0..knowledge.causes.len()).map(of).collect();
    Learned::new(knowledge, causes, 200)
}

fn reasoning(c: &mut Criterion) {
    let files = Knowledge::shipped_files();
    let knowledge = Knowledge::shipped();
    let facts = file::read(&knowledge, CASE).expect("the bench's case is valid");
    let line_up = ranking::rank(&knowledge, &facts);
    let workshop = Workshop::default();
    c.bench_function("load", |b| {
        b.iter(|| Knowledge::load(black_box(&files)).expect("valid"));
    });
    c.bench_function("rank", |b| {
        b.iter(|| ranking::rank(&knowledge, black_box(&facts)));
    });
    let mut here = facts.clone();
    here.learned = Some(Arc::new(learned(&knowledge)));
    c.bench_function("rank_learned", |b| {
        b.iter(|| ranking::rank(&knowledge, black_box(&here)));
    });
    let one_level = Workshop {
        second_level: 0,
        ..Workshop::default()
    };
    c.bench_function("plan_one_level", |b| {
        b.iter(|| {
            outline(
                &knowledge,
                black_box(&facts),
                &line_up.posterior,
                &one_level,
                Present::default(),
                &[],
            )
        });
    });
    c.bench_function("plan", |b| {
        b.iter(|| {
            outline(
                &knowledge,
                black_box(&facts),
                &line_up.posterior,
                &workshop,
                Present::default(),
                &[],
            )
        });
    });
    let planned = outline(
        &knowledge,
        &facts,
        &line_up.posterior,
        &workshop,
        Present::default(),
        &[],
    );
    c.bench_function("course", |b| {
        b.iter(|| {
            course(
                &knowledge,
                black_box(&facts),
                &line_up.posterior,
                &workshop,
                Present::default(),
                &planned,
                4,
            )
        });
    });
    c.bench_function("report", |b| {
        b.iter(|| report::line_up(&knowledge, black_box(&facts), report::Mode::Full));
    });
}

/// 60 cases of two to five pieces on 40 machines, for twelve people.
fn evening(c: &mut Criterion) {
    let piece = |n: usize, p: usize| Piece {
        hands: 3.0 + ((7 * n + 5 * p) % 17) as f64,
        wait: ((11 * n + 3 * p) % 4) as f64 * 15.0,
        needs: Needs::of(if n.is_multiple_of(3) {
            Deed::Machine
        } else {
            Deed::Work
        }),
    };
    let job = |n: usize| Job {
        machine: n % 40,
        worth: 1.0 + (n % 4) as f64,
        ready: if n.is_multiple_of(10) { 25.0 } else { 0.0 },
        stop: n % 20 == 7,
        taken: None,
        pieces: (0..2 + n % 4).map(|p| piece(n, p)).collect(),
    };
    let jobs: Vec<Job> = (0..60).map(job).collect();
    let person = |n: usize| Person {
        role: if n.is_multiple_of(3) {
            Role::Technician
        } else {
            Role::Volunteer
        },
        from: 0.0,
        until: 240.0,
    };
    let people: Vec<Person> = (0..12).map(person).collect();
    c.bench_function("shift", |b| {
        b.iter(|| shift::plan(black_box(&jobs), black_box(&people)));
    });
}

criterion_group!(benches, reasoning, evening);
criterion_main!(benches);

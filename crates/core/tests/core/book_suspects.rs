//! Which suspects a machine's book moves: worn parts, quirks that were not mended.

use crate::book::{BEGUN, K, beside, log, skiff, skiff_states};
use suspect_core::book::{Book, hours, reasons, shop_lives};
use suspect_core::evidence::Facts;
use suspect_core::learning::Learned;
use suspect_core::machine::{MachineEvent, QuirkNow};
use suspect_core::ranking::rank;
use time::Duration;

/// The book's number against that of a machine of the made-up kind.
fn moved(told: impl IntoIterator<Item = (i64, MachineEvent)>, cause: &str) -> f64 {
    let (kind, _) = skiff();
    let book = Book::of(&log(told));
    let now = BEGUN + Duration::days(20);
    let states = skiff_states(&book, Some(kind), now);
    let reasons = reasons(&K, &states, Some(kind), &book);
    let learned = Learned::default().with_reasons(&K, reasons);
    learned.factor(K.cause_id(cause).unwrap())
}

#[test]
fn a_worn_part_makes_its_cause_likelier_and_hours_read_long_ago_say_nothing() {
    let run = |day: i64, hours: f64| {
        [
            (0, MachineEvent::counter(1.0)),
            (day, MachineEvent::counter(hours)),
        ]
    };
    let (fresh, worn) = (
        moved(run(15, 60.0), "liner-worn"),
        moved(run(15, 1500.0), "liner-worn"),
    );
    assert!(fresh < 0.5 && worn > 1.2, "{fresh} {worn}");
    let book = Book::of(&log(run(15, 1500.0)));
    let later = BEGUN + Duration::days(60);
    let states = skiff_states(&book, None, later);
    assert!(states.iter().all(|s| s.factor == 1.0));
}

#[test]
fn a_quirk_raises_its_suspects_until_it_is_mended_and_never_decides() {
    let said = |now| MachineEvent::Quirk {
        quirk: "soft-bed-springs".into(),
        now,
        note: String::new(),
    };
    assert_eq!(moved([], "bed-springs-weak"), 2.5);
    assert_eq!(
        moved([(1, said(QuirkNow::Postponed))], "bed-springs-weak"),
        2.5
    );
    assert_eq!(moved([(1, said(QuirkNow::Done))], "bed-springs-weak"), 1.0);
    assert_eq!(
        moved([(1, said(QuirkNow::NotNeeded))], "bed-springs-weak"),
        1.0
    );
    for kind in &K.machine_kinds {
        assert!(kind.quirks.len() >= 8, "{}", kind.name);
    }
}

#[test]
fn the_ranking_reads_the_book_and_says_by_how_much() {
    let (kind, context) = skiff();
    let told = [
        (0, MachineEvent::counter(1.0)),
        (15, MachineEvent::counter(1500.0)),
    ];
    let book = Book::of(&log(told));
    let states = skiff_states(&book, Some(kind), BEGUN + Duration::days(16));
    let reasons = reasons(&K, &states, Some(kind), &book);
    let learned = Learned::default().with_reasons(&K, reasons);
    let mut facts = Facts {
        context,
        ..Facts::default()
    };
    let liner = K.cause_id("liner-worn").unwrap();
    let line = |facts: &Facts| {
        let lines = rank(&K, facts).causes;
        lines.into_iter().find(|l| l.cause == liner).unwrap()
    };
    let plain = line(&facts);
    facts.learned = Some(std::sync::Arc::new(learned));
    let with = line(&facts);
    assert!(with.prior_alone > plain.prior_alone);
    let decibans = 10.0 * (with.prior_alone / plain.prior_alone).log10();
    assert!((with.learned.unwrap() - decibans).abs() < 1e-9);
}

#[test]
fn a_part_whose_lives_ended_twice_tells_how_long_it_lives_here() {
    let (_, context) = skiff();
    let book = |second: bool| {
        let mut told = vec![
            (0, MachineEvent::counter(1.0)),
            (10, MachineEvent::fitted("nozzle", 900.0)),
        ];
        told.extend(second.then(|| (20, MachineEvent::fitted("nozzle", 1900.0))));
        Book::of(&log(told))
    };
    let (one, two) = (book(false), book(true));
    let lives = |book: &Book| shop_lives(&[beside(&hours(&context, book), book)]);
    assert!(lives(&one).is_empty(), "one is too few");
    let lives = lives(&two);
    assert_eq!(
        (lives.len(), lives[0].part.id, lives[0].ended),
        (1, "nozzle", 2)
    );
    let [early, half, late] = lives[0].worn_by;
    assert!(early < half && half < late);
    assert!(
        half > lives[0].usual,
        "they lasted longer than the book says"
    );
}

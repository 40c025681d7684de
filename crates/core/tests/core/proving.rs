//! Proof that fits the fault, holding, and what a closed case teaches.

use std::sync::LazyLock;
use suspect_core::case::{
    Beside, CaseState, Entry, Event, HeldAnswer, Outcome, Shows, Status, Struck, accept, replay,
};
use suspect_core::evidence::Evidence;
use suspect_core::knowledge::{Knowledge, TryResult};
use suspect_core::lessons::lesson::{holds, lesson};
use suspect_core::ranking::posterior;
use suspect_core::testing::{events, log, opened, printed, resolved};
use time::Duration;

static K: LazyLock<Knowledge> = LazyLock::new(Knowledge::shipped);

fn now_and_then(prints: u32, of: u32) -> Event {
    Event::Struck(Struck {
        prints,
        of,
        ..Struck::default()
    })
}

fn clean(hours: Option<f64>) -> Event {
    match printed(TryResult::Cured) {
        Event::Printed {
            result,
            minutes,
            grams,
            ..
        } => Event::Printed {
            result,
            minutes,
            grams,
            hours,
        },
        other => other,
    }
}

fn closed(outcome: Outcome) -> Event {
    match resolved(outcome, Some("pulley-slips"), "") {
        Event::Resolved {
            outcome,
            cause,
            note,
            ..
        } => Event::Resolved {
            outcome,
            cause,
            fix: Some("tighten-pulley".into()),
            note,
        },
        other => other,
    }
}

/// A mended pulley with these events behind it, a minute each.
fn mended(more: Vec<Event>) -> Vec<Entry> {
    let mut all = vec![opened()];
    all.extend(events(
        "layer-step=present pulley-mark/slips +tighten-pulley",
    ));
    all.extend(more);
    log(&all)
}

fn state(more: Vec<Event>) -> CaseState {
    replay(&K, &mended(more))
}

fn suspected(case: &CaseState, cause: &str) -> f64 {
    let evidence = Evidence::of(&K, &case.facts);
    posterior(&K, &evidence, true).involved()[K.cause_id(cause).unwrap().at()]
}

#[test]
fn a_fault_that_came_now_and_then_is_proven_by_as_many_prints_as_it_takes() {
    let two_of_five = now_and_then(2, 5);
    let after = |prints: usize| {
        let mut all = vec![two_of_five.clone()];
        all.extend(std::iter::repeat_n(clean(None), prints));
        state(all)
    };
    let none = after(0).proving().unwrap();
    assert_eq!((none.more_prints, none.proven), (16, false));
    let few = after(15);
    assert!(matches!(few.status, Status::Verifying(_)), "still on watch");
    assert_eq!(few.proving().unwrap().more_prints, 1);
    assert!(accept(&K, &few, &closed(Outcome::FixedAndVerified)).is_err());
    let enough = after(16);
    assert!(enough.proven() && matches!(enough.status, Status::Cured(_)));
    assert_eq!(
        accept(&K, &enough, &closed(Outcome::FixedAndVerified)),
        Ok(())
    );
}

#[test]
fn one_clean_print_of_a_rare_fault_is_little_evidence() {
    let rare = state(vec![now_and_then(1, 4), clean(None)]);
    let always = state(vec![Event::Struck(Struck::always()), clean(None)]);
    let before = state(vec![]);
    let [before, rare, always] = [&before, &rare, &always].map(|c| suspected(c, "pulley-slips"));
    assert!(before < rare && rare < always, "{before} {rare} {always}");
}

#[test]
fn a_fault_after_hours_needs_long_prints_and_one_at_any_moment_needs_hours() {
    let late = Event::Struck(Struck {
        prints: 2,
        of: 2,
        shows: Shows::AfterHours,
        hours: Some(4.0),
        ..Struck::default()
    });
    let short = state(vec![late.clone(), clean(Some(1.0))])
        .proving()
        .unwrap();
    let long = state(vec![late, clean(Some(8.0))]).proving().unwrap();
    assert!((short.silent - 1.0).abs() < 1e-12, "it had no time to show");
    assert!(long.silent < 0.5 && long.whole_hours == Some(6.0));
    let any = Event::Struck(Struck {
        prints: 3,
        of: 3,
        shows: Shows::AnyMoment,
        hours: Some(12.0),
        ..Struck::default()
    });
    let some = state(vec![any.clone(), clean(Some(20.0))])
        .proving()
        .unwrap();
    assert!(!some.proven && some.more_hours.unwrap() < 1.0);
    assert!(state(vec![any, clean(Some(21.0))]).proven());
}

#[test]
fn counts_that_cannot_be_are_refused() {
    let case = state(vec![]);
    let told = |prints: u32, of: u32, hours: Option<f64>| {
        let struck = Struck {
            prints,
            of,
            hours,
            ..Struck::default()
        };
        accept(&K, &case, &Event::Struck(struck))
    };
    assert_eq!(told(2, 5, None), Ok(()));
    for (prints, of, hours) in [
        (0, 5, None),
        (6, 5, None),
        (1, 5_000, None),
        (1, 1, Some(-1.0)),
    ] {
        assert!(
            told(prints, of, hours).is_err(),
            "{prints} of {of} {hours:?}"
        );
    }
    assert!(accept(&K, &case, &clean(Some(f64::NAN))).is_err());
}

#[test]
fn a_closed_case_asks_again_after_three_weeks_and_three_months() {
    let proof = || vec![Event::Struck(Struck::always()), clean(None)];
    let end = closed(Outcome::FixedAndVerified);
    let mut entries = mended([proof(), vec![end]].concat());
    let clean_at = entries[entries.len() - 2].at;
    assert_eq!(
        replay(&K, &entries).ask_at(),
        Some(clean_at + Duration::days(21))
    );
    let answered = |entries: &mut Vec<Entry>, days: i64, answer| {
        let seq = entries.last().unwrap().seq + 1;
        entries.push(Entry {
            seq,
            at: clean_at + Duration::days(days),
            by: None,
            event: Event::AskedAgain { answer },
        });
        replay(&K, entries).ask_at()
    };
    let next = answered(&mut entries, 25, HeldAnswer::Held);
    assert_eq!(next, Some(clean_at + Duration::days(90)));
    let held = holds(&K, &entries, &replay(&K, &entries));
    assert!((held[0].day - 25.0).abs() < 1e-9 && !held[0].returned);
    assert_eq!(
        answered(&mut entries, 91, HeldAnswer::Held),
        None,
        "watched to the end"
    );

    let mut unsure = mended([proof(), vec![closed(Outcome::FixedAndVerified)]].concat());
    assert_eq!(answered(&mut unsure, 21, HeldAnswer::CannotSay), None);
}

#[test]
fn what_came_back_reopens_with_its_facts_and_its_cure_withdrawn() {
    let proof = vec![Event::Struck(Struck::always()), clean(None)];
    let end = closed(Outcome::FixedAndVerified);
    let mut entries = mended([proof, vec![end]].concat());
    let closed_state = replay(&K, &entries);
    let at = entries.last().unwrap().at + Duration::days(9);
    let seq = entries.len() as u32 + 1;
    entries.push(Entry {
        seq,
        at,
        by: None,
        event: Event::Reopened {
            reason: "back".into(),
            after_days: None,
        },
    });
    let open = replay(&K, &entries);
    assert_eq!(open.status, Status::Open);
    for (finding, seen) in &closed_state.facts.findings {
        assert_eq!(
            open.facts.findings.get(finding),
            Some(seen),
            "first facts kept"
        );
    }
    let held = K.finding_id("held-before").unwrap();
    assert!(open.facts.findings.contains_key(&held));
    let tried = open.facts.tried[0];
    let weights = tried.weights.unwrap();
    assert!(tried.came_undone && weights[0] < 0.2, "{weights:?}");
    let loose = |case: &CaseState| suspected(case, "pulley-slips");
    assert!(loose(&open) < loose(&closed_state));
    let record = &holds(&K, &entries, &open)[0];
    assert!(
        record.returned && (record.day - 4.5).abs() < 0.01,
        "half-way"
    );
    assert!(
        lesson(&K, &entries, &open).is_none(),
        "nothing until closed again"
    );
}

#[test]
fn a_fix_that_was_never_proven_leaves_no_word_that_it_held() {
    let unproven = state(vec![
        clean(None),
        closed(Outcome::BelievedFixed),
        Event::Reopened {
            reason: "back".into(),
            after_days: Some(2.0),
        },
    ]);
    let held = K.finding_id("held-before").unwrap();
    assert!(!unproven.facts.findings.contains_key(&held));
}

#[test]
fn a_lesson_counts_what_was_proved_and_what_fits_the_evidence() {
    let of = |struck: Event, outcome: Outcome| {
        let entries = mended(vec![struck, clean(None), closed(outcome)]);
        lesson(&K, &entries, &replay(&K, &entries)).unwrap()
    };
    let proven = of(Event::Struck(Struck::always()), Outcome::FixedAndVerified);
    assert!(proven.proven && proven.credit > 0.8, "{proven:?}");
    assert!((proven.counts() - proven.credit).abs() < 1e-12);
    let improved = of(now_and_then(1, 4), Outcome::Improved);
    assert!((improved.counts() - improved.credit / 2.0).abs() < 1e-12);
    assert_eq!(of(now_and_then(1, 4), Outcome::BelievedFixed).counts(), 0.0);
    let cured = proven.uses.iter().find(|u| u.cause == "pulley-slips");
    assert_eq!(
        cured.map(|u| (u.fix.as_str(), u.success)),
        Some(("tighten-pulley", 1.0))
    );
    // Before the look at the mark the leader was who led then, not who it was.
    let first = proven.first.unwrap();
    assert!(first.sure < 0.9 && first.recorded <= first.sure);
}

#[test]
fn a_case_left_out_teaches_nothing_and_teaches_the_same_again() {
    let with = |more: Vec<Event>| {
        let proof = vec![Event::Struck(Struck::always()), clean(None)];
        let end = vec![closed(Outcome::FixedAndVerified)];
        let entries = mended([proof, end, more].concat());
        let case = replay(&K, &entries);
        lesson(&K, &entries, &case).unwrap()
    };
    let out = |reason: Option<&str>| Event::LeftOut {
        reason: reason.map(Into::into),
    };
    let (kept, left) = (with(vec![]), with(vec![out(Some("a jammed door"))]));
    assert!(kept.counts() > 0.5 && left.counts() == 0.0);
    let again = with(vec![out(Some("a jammed door")), out(None)]);
    assert_eq!(again, kept);
    let open = state(vec![]);
    assert!(
        accept(&K, &open, &out(Some(" "))).is_err(),
        "a reason is wanted"
    );
}

#[test]
fn the_check_that_told_repeated_and_sound_proves_with_one_clean_print() {
    let seen = |more: Vec<Event>| replay(&K, &mended(more));
    let rarely = || now_and_then(2, 5);
    let sound = || Event::Beside {
        how: Beside::CheckSound,
    };
    let one = seen(vec![rarely(), clean(None)]);
    assert!(!one.proven());
    let (check, less) = one.telling_check(&K).expect("the mark on the pulley told");
    assert_eq!(K.check_name(check), "pulley-mark");
    let both = seen(vec![rarely(), clean(None), sound()]);
    let [alone, with] = [&one, &both].map(|c| c.proving().unwrap().silent);
    assert!((with - alone * less).abs() < 1e-12 && less < 0.5);
    assert_eq!(both.proven(), with <= 0.05, "{with}");
    // Without a clean print it proves nothing, and whatever the order it comes to the same.
    let none = seen(vec![rarely(), sound()]).proving().unwrap();
    assert!(!none.proven && none.prints == 0 && none.more_prints >= 1);
    let first = seen(vec![rarely(), sound(), clean(None)]);
    assert_eq!(first.proving(), both.proving());
}

#[test]
fn the_fault_back_with_the_old_value_proves_and_only_where_a_value_was_changed() {
    let back = Event::Beside {
        how: Beside::FaultBack,
    };
    let told = mended(vec![now_and_then(1, 4), clean(None)]);
    let case = replay(&K, &told);
    assert!(
        accept(&K, &case, &back).is_err(),
        "a tightened pulley has no old value"
    );
    let changed = Event::Fixed {
        fix: "lower-nozzle-temperature".into(),
        minutes: 2.0,
        money: 0.0,
        before: Some("215 °C".into()),
        after: Some("205 °C".into()),
        together: false,
    };
    let mut all = vec![opened(), changed, now_and_then(1, 4), clean(None)];
    let before = replay(&K, &log(&all));
    assert!(!before.proven(), "{:?}", before.proof);
    assert_eq!(accept(&K, &before, &back), Ok(()), "{:?}", before.changes);
    let without: Vec<Event> = [&all[..3], std::slice::from_ref(&back)].concat();
    let without = replay(&K, &log(&without)).proving().unwrap();
    assert_eq!((without.proven, without.more_prints), (false, 1));
    all.push(back);
    let after = replay(&K, &log(&all));
    assert!(after.proven() && after.proving().unwrap().silent == 0.0);
    all.push(Event::Retracted { seq: 5 });
    assert!(
        !replay(&K, &log(&all)).proven(),
        "taken back it proves nothing"
    );
}

#[test]
fn a_fix_that_came_undone_is_advised_again_at_a_third_of_its_chance() {
    let proof = || vec![Event::Struck(Struck::always()), clean(None)];
    let mut told = mended(proof());
    told.extend(after(&told, closed(Outcome::FixedAndVerified)));
    let reopened = Event::Reopened {
        reason: "came back".into(),
        after_days: Some(5.0),
    };
    told.extend(after(&told, reopened));
    let case = replay(&K, &told);
    let (fix, cause) = (
        K.fix_id("tighten-pulley").unwrap(),
        K.cause_id("pulley-slips").unwrap(),
    );
    let now = posterior(&K, &Evidence::of(&K, &case.facts), false);
    assert!((now.cure(&K, fix, cause) - 0.3 * K.cure(fix, cause)).abs() < 1e-12);
    let before = replay(&K, &mended(proof()));
    let then = posterior(&K, &Evidence::of(&K, &before.facts), false);
    assert_eq!(then.cure(&K, fix, cause), K.cure(fix, cause));
}

/// One entry more behind a log.
fn after(log: &[Entry], event: Event) -> Vec<Entry> {
    let last = log.last().unwrap();
    vec![Entry {
        seq: last.seq + 1,
        at: last.at + Duration::minutes(1),
        by: None,
        event,
    }]
}

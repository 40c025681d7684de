//! The evening: nobody does two things at once, stops come first, waits are filled, and the order
//! found is hardly worse than the best there is.

use proptest::prelude::*;
use std::sync::LazyLock;
use suspect_core::case::{Event, analyse, replay as replay_case};
use suspect_core::knowledge::Knowledge;
use suspect_core::people::{Deed, Needs, Role};
use suspect_core::planning::Workshop;
use suspect_core::shelf::Shelving;
use suspect_core::shift::{
    Act, HandOver, Job, JobId, Person, Piece, Schedule, Shift, ShiftEvent, Who, accept, expected,
    first_come, list, plan, replay,
};
use suspect_core::testing::{at, events, log, opened};
use time::Duration;

static K: LazyLock<Knowledge> = LazyLock::new(Knowledge::shipped);

fn piece(hands: f64, wait: f64) -> Piece {
    Piece {
        hands,
        wait,
        needs: Needs::of(Deed::Work),
    }
}

fn job(machine: usize, pieces: &[(f64, f64)]) -> Job {
    Job {
        machine,
        worth: 1.0,
        ready: 0.0,
        stop: false,
        taken: None,
        pieces: pieces.iter().map(|(h, w)| piece(*h, *w)).collect(),
    }
}

fn person(role: Role) -> Person {
    Person {
        role,
        from: 0.0,
        until: 240.0,
    }
}

/// What must be so of every evening.
fn sound(jobs: &[Job], people: &[Person], evening: &Schedule) {
    for (n, a) in evening.placed.iter().enumerate() {
        let own = &jobs[a.job].pieces[a.piece];
        assert!(own.needs.met_by(people[a.person].role));
        assert!(a.free <= people[a.person].until + 1e-6 && a.begin >= jobs[a.job].ready - 1e-6);
        assert!((a.free - a.begin - own.hands).abs() < 1e-9);
        for b in &evening.placed[n + 1..] {
            let hands = a.person == b.person && a.begin < b.free - 1e-6 && b.begin < a.free - 1e-6;
            assert!(!hands, "two things at once: {a:?} {b:?}");
            let machine = jobs[a.job].machine == jobs[b.job].machine;
            let both = a.begin < b.over - 1e-6 && b.begin < a.over - 1e-6;
            assert!(!(machine && both), "two on one machine: {a:?} {b:?}");
        }
    }
}

/// The least that any evening costs: every sequence of pieces, by every hand, tried.
fn least(jobs: &[Job], people: &[Person]) -> f64 {
    struct Try<'a> {
        jobs: &'a [Job],
        people: &'a [Person],
        free: Vec<f64>,
        ready: Vec<f64>,
        next: Vec<usize>,
    }
    fn go(t: &mut Try<'_>, best: &mut f64) {
        let mut any = false;
        for j in 0..t.jobs.len() {
            let Some(p) = t.jobs[j].pieces.get(t.next[j]) else {
                continue;
            };
            for w in 0..t.people.len() {
                let begin = t.ready[j].max(t.free[w]);
                if begin + p.hands > t.people[w].until || !p.needs.met_by(t.people[w].role) {
                    continue;
                }
                any = true;
                let kept = (t.free[w], t.ready[j]);
                t.free[w] = begin + p.hands;
                t.ready[j] = t.free[w] + p.wait;
                t.next[j] += 1;
                go(t, best);
                t.next[j] -= 1;
                (t.free[w], t.ready[j]) = kept;
            }
        }
        if !any {
            let whole = t.people.iter().map(|p| p.until).fold(0.0, f64::max);
            let cost = t.jobs.iter().enumerate().map(|(j, job)| {
                let left: f64 = job.pieces[t.next[j]..]
                    .iter()
                    .map(|p| p.hands + p.wait)
                    .sum();
                let until = if left == 0.0 {
                    t.ready[j]
                } else {
                    t.ready[j].max(whole) + left
                };
                job.worth * until
            });
            *best = best.min(cost.sum());
        }
    }
    let mut t = Try {
        jobs,
        people,
        free: vec![0.0; people.len()],
        ready: jobs.iter().map(|j| j.ready).collect(),
        next: vec![0; jobs.len()],
    };
    let mut best = f64::INFINITY;
    go(&mut t, &mut best);
    best
}

#[test]
fn hands_go_to_one_machine_while_another_waits() {
    // Ten minutes, an hour of drying, ten minutes; beside it twenty minutes of work.
    let jobs = [job(0, &[(10.0, 60.0), (10.0, 0.0)]), job(1, &[(20.0, 0.0)])];
    let people = [person(Role::Technician)];
    let evening = plan(&jobs, &people);
    sound(&jobs, &people, &evening);
    assert_eq!(evening.done, [Some(80.0), Some(30.0)]);
}

#[test]
fn a_stop_begins_before_anything_else_does() {
    let mut jobs = vec![job(0, &[(5.0, 0.0)]), job(1, &[(45.0, 0.0)])];
    jobs[1].stop = true;
    let evening = plan(&jobs, &[person(Role::Technician)]);
    assert_eq!((evening.placed[0].job, evening.done[0]), (1, Some(50.0)));
}

#[test]
fn whoever_may_least_takes_what_they_may_and_nobody_does_what_they_may_not() {
    let mut hard = job(0, &[(30.0, 0.0)]);
    hard.pieces[0].needs = Needs::of(Deed::Machine);
    let jobs = [job(1, &[(30.0, 0.0)]), hard.clone()];
    let people = [person(Role::Technician), person(Role::Volunteer)];
    let evening = plan(&jobs, &people);
    let of = |job: usize| evening.placed.iter().find(|p| p.job == job).unwrap().person;
    assert_eq!((of(0), of(1)), (1, 0));
    let nobody = plan(&[hard], &[person(Role::Volunteer)]);
    assert_eq!((nobody.placed.len(), nobody.done[0]), (0, None));
}

#[test]
fn what_somebody_took_is_theirs_and_a_wait_that_runs_keeps_its_machine() {
    let mut jobs = [job(0, &[(10.0, 0.0)]), job(0, &[(10.0, 0.0)])];
    jobs[0].taken = Some(1);
    jobs[0].ready = 25.0;
    let people = [person(Role::Technician), person(Role::Technician)];
    let evening = plan(&jobs, &people);
    sound(&jobs, &people, &evening);
    let own = evening.placed.iter().find(|p| p.job == 0).unwrap();
    assert_eq!(own.person, 1);
    assert!(evening.placed.iter().all(|p| p.begin >= 25.0));
}

#[test]
fn forty_machines_and_sixty_cases_have_an_evening() {
    let of = |n: usize| {
        job(
            n % 40,
            &[(7.0 + (n % 5) as f64, 20.0), (3.0, 30.0), (2.0, 0.0)],
        )
    };
    let jobs: Vec<Job> = (0..60).map(of).collect();
    let people = [person(Role::Technician); 12];
    let evening = plan(&jobs, &people);
    sound(&jobs, &people, &evening);
    assert!(evening.cost <= first_come(&jobs, &people).cost);
}

fn pieces() -> impl Strategy<Value = Vec<(f64, f64)>> {
    let minutes = prop_oneof![Just(1.0), Just(5.0), Just(12.0), Just(30.0)];
    let waits = prop_oneof![Just(0.0), Just(10.0), Just(45.0)];
    prop::collection::vec((minutes, waits), 1..=2)
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(60))]

    #[test]
    fn an_evening_is_sound_and_within_a_twentieth_of_the_best_there_is(
        chains in prop::collection::vec(pieces(), 2..=4),
        two in any::<bool>(),
        worths in prop::collection::vec(0.5f64..4.0, 4),
    ) {
        let jobs: Vec<Job> = chains.iter().enumerate().map(|(n, p)| Job {
            worth: worths[n],
            ..job(n, p)
        }).collect();
        let people = vec![person(Role::Technician); 1 + usize::from(two && jobs.len() < 4)];
        let evening = plan(&jobs, &people);
        sound(&jobs, &people, &evening);
        let best = least(&jobs, &people);
        prop_assert!(evening.cost <= best * 1.05 + 1e-6, "{} {best}", evening.cost);
        prop_assert!(evening.cost >= best - 1e-6);
    }

    #[test]
    fn any_order_and_patience_gives_a_sound_evening(
        chains in prop::collection::vec(pieces(), 1..=6),
        patience in 0.0f64..60.0,
        machines in prop::collection::vec(0usize..3, 6),
    ) {
        let jobs: Vec<Job> = chains.iter().zip(machines).map(|(p, m)| job(m, p)).collect();
        let people = [person(Role::Volunteer), person(Role::Keeper)];
        let order: Vec<usize> = (0..jobs.len()).rev().collect();
        sound(&jobs, &people, &list(&jobs, &people, &order, patience));
    }
}

fn course(line: &str, more: Vec<Event>) -> Vec<Act> {
    let entries = log(&[vec![opened()], events(line), more].concat());
    let case = replay_case(&K, &entries);
    let workshop = Workshop::default();
    let analysis = analyse(&K, &case, &workshop);
    let all = expected(&K, &case, &analysis, &workshop, at(99)).unwrap();
    assert!(
        all.pieces
            .iter()
            .all(|(_, p)| p.hands >= 0.0 && p.wait >= 0.0)
    );
    all.pieces.into_iter().map(|(act, _)| act).collect()
}

#[test]
fn a_course_names_what_the_plan_would_do_and_ends_with_the_closing() {
    let acts = course("layer-step=present", vec![]);
    assert!(matches!(acts[0], Act::Check(_) | Act::Fix(_)));
    assert_eq!(acts.last(), Some(&Act::Close));
    let proof = course("layer-step=present +tighten-pulley", vec![]);
    assert!(matches!(
        proof[..],
        [Act::Prove(_), Act::Compare, Act::Close]
    ));
    assert_eq!(course("", vec![]), [Act::Tell, Act::Further, Act::Close]);
    // A machine that is held gets no step named beyond the clearing of its stop.
    let stopped = course("burnt-smell=present", vec![]);
    assert!(matches!(stopped[0], Act::ClearStop(_)));
    assert!(
        stopped
            .iter()
            .all(|a| !matches!(a, Act::Check(_) | Act::Fix(_)))
    );
}

#[test]
fn a_print_that_runs_waits_and_then_takes_a_look() {
    let timer = Event::TimerSet {
        work: suspect_core::case::WorkId::Proof,
        step: 1,
        minutes: 60.0,
    };
    let entries = log(&[
        vec![opened()],
        events("layer-step=present +tighten-pulley"),
        vec![timer],
    ]
    .concat());
    let case = replay_case(&K, &entries);
    let workshop = Workshop::default();
    let now = entries.last().unwrap().at + Duration::minutes(20);
    let all = expected(&K, &case, &analyse(&K, &case, &workshop), &workshop, now).unwrap();
    assert!((all.ready - 40.0).abs() < 1e-6);
    assert_eq!(all.pieces[0].0, Act::Compare);
}

fn told(events: Vec<ShiftEvent>) -> Shift {
    let entries = (1u32..).zip(events).map(|(seq, event)| Shelving {
        seq,
        at: at(seq),
        by: Some("Ada".into()),
        event,
    });
    replay(&entries.collect::<Vec<_>>())
}

fn begun() -> ShiftEvent {
    ShiftEvent::Begun {
        people: vec![Who {
            by: "Ada".into(),
            role: Role::Technician,
        }],
        until: at(1) + Duration::hours(3),
        minutes: 180.0,
    }
}

fn took(who: &str) -> ShiftEvent {
    ShiftEvent::Took {
        job: JobId::Case("7".into()),
        who: who.into(),
    }
}

#[test]
fn what_somebody_took_nobody_else_takes_until_it_is_handed_over() {
    let taken = told(vec![begun(), took("Ada")]);
    assert!(accept(&taken, &took("Ben"), false).is_err());
    assert_eq!(accept(&taken, &took("Ada"), false), Ok(()));
    let over = ShiftEvent::HandedOver {
        job: JobId::Case("7".into()),
        to: Some("Ben".into()),
        word: "the plate is still hot".into(),
    };
    let after = told(vec![begun(), took("Ada"), over]);
    assert_eq!(after.taken[&JobId::Case("7".into())], "Ben");
    assert_eq!(after.words.len(), 1);
    let left = ShiftEvent::NotTonight {
        job: JobId::Round,
        word: String::new(),
    };
    let left = told(vec![begun(), left]);
    assert!(left.not_tonight.contains_key(&JobId::Round));
}

#[test]
fn an_evening_begins_with_somebody_and_ends_once() {
    let none = Shift::default();
    assert!(accept(&none, &took("Ada"), true).is_err(), "it never began");
    let nobody = ShiftEvent::Begun {
        people: Vec::new(),
        until: at(1),
        minutes: 60.0,
    };
    assert!(accept(&none, &nobody, true).is_err());
    let page = HandOver::default();
    let over = told(vec![begun(), ShiftEvent::Ended { page: page.clone() }]);
    assert_eq!(over.ended, Some(page));
    assert!(accept(&over, &took("Ada"), false).is_err());
    for text in ["case/", "round/1", "tea"] {
        assert!(text.parse::<JobId>().is_err(), "{text}");
    }
}

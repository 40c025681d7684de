//! Practice is fair: the same seed is the same case with the same luck, what is told fits the drawn
//! world except where the level says so, and the advice scores zero against itself.

use proptest::prelude::*;
use std::num::NonZeroUsize;
use std::sync::LazyLock;
use suspect_core::case::{Event, Outcome};
use suspect_core::evidence::Evidence;
use suspect_core::knowledge::{Family, Knowledge};
use suspect_core::planning::{Action, Workshop, outline};
use suspect_core::ranking::posterior;
use suspect_core::safety;
use suspect_core::testing::{events, log, opened};
use suspect_rehearsal::practice::drill::{Kind, Memory, deck, lay};
use suspect_rehearsal::practice::{
    Act, Answered, Begun, Desk, End, Kept, LEVELS, Level, NoCase, NoPast, Play, PracticeCase,
    Wanted, any_level, calibration, draw, judge, log_score, of_past, result, seed_of, shares,
    truth, wants_off, ways,
};
use time::macros::datetime;

static K: LazyLock<Knowledge> = LazyLock::new(Knowledge::shipped);
static WORKSHOP: LazyLock<Workshop> = LazyLock::new(Workshop::default);

fn level() -> impl Strategy<Value = Level> {
    prop::sample::select(LEVELS.to_vec())
}

fn drawn(seed: u64, level: Level) -> PracticeCase {
    draw(&K, &Wanted::of(seed, level)).unwrap()
}

/// What the advice would do now; nothing where the machine is held.
fn advised(play: &Play<'_>) -> Action {
    let ranked = posterior(&K, &Evidence::of(&K, play.facts()), true);
    let plan = outline(&K, play.facts(), &ranked, &WORKSHOP, play.present(), &[]);
    plan.steps.first().map_or(Action::GiveUp, |s| s.action)
}

/// An action as a trainee does it who minds how the machine stands.
fn carefully(action: Action) -> Act {
    let begun = match action.work(&K).is_some_and(wants_off) {
        true => Begun::Off,
        false => Begun::AsItStands,
    };
    match action {
        Action::Check(c) => Act::Check(K.check_name(c).to_string(), begun),
        Action::Fix(x) => Act::Fix(K.fix(x).id.clone(), begun),
        Action::ClearStop(_) => Act::Stop,
        Action::GiveUp => Act::GiveUp,
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(40))]

    #[test]
    fn the_same_seed_is_the_same_case_and_is_kept_whole(seed in any::<u64>(), level in level()) {
        let (one, two) = (drawn(seed, level), drawn(seed, level));
        prop_assert_eq!(one.kept(&K), two.kept(&K));
        let kept = serde_json::to_value(one.kept(&K)).unwrap();
        let kept: Kept = serde_json::from_value(kept).unwrap();
        let back = kept.open(&K).unwrap();
        prop_assert_eq!(back.kept(&K), one.kept(&K));
        // The luck is the same, too: whatever is asked in whatever order.
        let desks = [&one, &back].map(|case| Desk::new(&K, &WORKSHOP, case));
        let signs = ["stringing", "layer-step", "extruder-clicks", "popping"];
        let mut plays = [Play::new(&desks[0]), Play::new(&desks[1])];
        let answers = |play: &mut Play<'_>, order: &[&str]| {
            let mut all: Vec<(String, Answered)> = order
                .iter()
                .map(|s| (s.to_string(), play.act(&Act::Ask(s.to_string()))))
                .collect();
            all.sort_by(|a, b| a.0.cmp(&b.0));
            all
        };
        let turned: Vec<&str> = signs.iter().rev().copied().collect();
        prop_assert_eq!(answers(&mut plays[0], &signs), answers(&mut plays[1], &turned));
    }

    #[test]
    fn what_is_told_fits_who_acts_except_where_the_level_says_so(
        seed in any::<u64>(),
        level in level(),
    ) {
        let case = drawn(seed, level);
        let own = |f, state: usize| {
            case.acting.iter().any(|c| K.table.states(*c, f)[state] > 0.0)
        };
        for (f, sighting) in &case.told.findings {
            let fits = own(*f, sighting.answer.state().unwrap());
            prop_assert!(fits || case.wrong == Some(*f), "{}", K.finding(*f).id);
        }
        prop_assert_eq!(case.wrong.is_some(), level == Level::Messy);
        prop_assert_eq!(case.acting.len(), if level == Level::TwoCauses { 2 } else { 1 });
        let normal = case.acting.iter().all(|c| K.cause(*c).family == Family::Normal);
        prop_assert_eq!(normal, level == Level::NothingWrong);
        let held = !safety::stops(&K, &case.told).is_empty();
        prop_assert_eq!(held, level == Level::Dangerous);
        prop_assert!(!case.words.is_empty());
        for tried in &case.told.tried {
            prop_assert!(case.acting.iter().all(|c| K.cure(tried.fix, *c) == 0.0));
        }
    }

    #[test]
    fn the_advice_scores_zero_against_itself_and_each_of_its_steps_costs_nothing(
        seed in any::<u64>(),
        level in level(),
    ) {
        let case = drawn(seed, level);
        let desk = Desk::new(&K, &WORKSHOP, &case);
        let mut play = Play::new(&desk);
        for _ in 0..80 {
            let act = match (&play.waits, play.held()) {
                (Some((_, _, shown)), _) => Act::Read(shown.value),
                (None, Some(_)) if play.spent().0 == 0.0 => Act::Stop,
                (None, _) => carefully(advised(&play)),
            };
            let judged = judge(&desk, &play, &act);
            // What a check brings to light may hold the machine: nobody goes on by a plan then.
            if play.held().is_none() {
                prop_assert!(judged.cost < 1e-6, "{act:?} {judged:?}");
            }
            play.act(&act);
            if play.end.is_some() {
                break;
            }
        }
        let stopped = matches!(play.end, Some(End::Harm(_) | End::Overlooked(_)));
        let came = result(&desk, &play);
        prop_assert!(stopped || came.score().abs() < 1e-6, "{:?} {came:?}", play.end);
        let same = (came.money - came.advice.money).abs() < 1e-6
            && came.wrong_fixes == came.advice.wrong_fixes;
        prop_assert!(stopped || same, "{came:?}");
        prop_assert_eq!(came.misread, 0);
    }
}

#[test]
fn a_seed_of_any_size_is_a_seed_and_words_are_none() {
    assert_eq!(seed_of(" 7 "), Some(7));
    let long = seed_of(&"9".repeat(400)).unwrap();
    assert_eq!(Some(long), seed_of(&"9".repeat(400)));
    drawn(long, Level::Clear);
    for text in ["", "-1", "1.5", "seven", "0x10", "١٢"] {
        assert_eq!(seed_of(text), None, "{text}");
    }
    let levels: Vec<Level> = (0..200).map(any_level).collect();
    assert!(LEVELS.iter().all(|l| levels.contains(l)));
}

#[test]
fn a_level_that_a_machine_and_family_cannot_have_is_said_to_be_none() {
    let wanted = Wanted {
        family: Some(Family::Normal),
        ..Wanted::of(3, Level::Clear)
    };
    assert_eq!(draw(&K, &wanted).unwrap_err(), NoCase(Level::Clear));
    let bed = Wanted {
        family: Some(Family::Bed),
        perturb: 0.5,
        ..Wanted::of(3, Level::Clear)
    };
    let case = draw(&K, &bed).unwrap();
    assert_eq!(K.cause(case.acting[0]).family, Family::Bed);
}

#[test]
fn a_dangerous_machine_is_made_safe_or_the_case_ends_there() {
    let case = drawn(5, Level::Dangerous);
    let desk = Desk::new(&K, &WORKSHOP, &case);
    let ended = |act: Act| {
        let mut play = Play::new(&desk);
        play.act(&act);
        (play.end, result(&desk, &play).score())
    };
    let (safe, score) = ended(Act::Stop);
    assert_eq!((safe, score), (Some(End::MadeSafe), 0.0));
    let hot = K.fixes.iter().find(|x| x.work.heats).unwrap();
    let (harm, score) = ended(Act::Fix(hot.id.clone(), Begun::AsItStands));
    assert!(matches!(harm, Some(End::Harm(_))) && score > 60.0);
    for left in [Act::GiveUp, Act::Ordinary] {
        let (end, _) = ended(left);
        assert!(matches!(end, Some(End::Overlooked(_))) && end.unwrap().unsafe_end());
    }
}

#[test]
fn hands_in_a_machine_under_power_end_the_case() {
    let case = drawn(2, Level::Clear);
    let desk = Desk::new(&K, &WORKSHOP, &case);
    let check = K.checks.iter().find(|c| wants_off(&c.work)).unwrap();
    let id = K.finding(check.finding).id.clone();
    let mut play = Play::new(&desk);
    play.act(&Act::Check(id.clone(), Begun::AsItStands));
    assert!(matches!(play.end, Some(End::Hands(_))));
    let mut play = Play::new(&desk);
    play.act(&Act::Check(id, Begun::Off));
    assert!(!matches!(play.end, Some(End::Hands(_))));
}

#[test]
fn there_is_no_second_luck_and_nothing_after_the_end() {
    let case = drawn(11, Level::PopularWrong);
    let desk = Desk::new(&K, &WORKSHOP, &case);
    let mut play = Play::new(&desk);
    let fix = |id: &str| Act::Fix(id.into(), Begun::Off);
    let first = play.act(&fix("dry-filament"));
    let paid = play.spent();
    assert_eq!(play.act(&fix("dry-filament")), Answered::Again, "{first:?}");
    assert_eq!(play.spent(), paid);
    for (act, why) in [
        (Act::Ask("no-sign".into()), "there is no such sign"),
        (Act::Ask("belt-pluck".into()), "that takes a check"),
        (fix("no-fix"), "there is no such fix"),
        (Act::Read(1.0), "no instrument waits to be read"),
        (Act::Stop, "nothing that is known calls for a stop"),
    ] {
        assert_eq!(play.act(&act), Answered::No(why));
    }
    assert_eq!(play.spent(), paid);
    play.act(&Act::Ordinary);
    assert_eq!(play.end, Some(End::Mistaken));
    assert_eq!(play.act(&Act::Stop), Answered::No("the case is over"));
}

#[test]
fn an_instrument_is_read_before_anything_is_known_of_it() {
    let case = drawn(4, Level::Clear);
    let desk = Desk::new(&K, &WORKSHOP, &case);
    let mut play = Play::new(&desk);
    let f = K.finding_id("measure-filament").unwrap();
    let check = Act::Check("measure-filament".into(), Begun::AsItStands);
    assert!(matches!(play.act(&check), Answered::Instrument(_)));
    assert!(!play.facts().findings.contains_key(&f));
    let paid = play.spent();
    assert!(matches!(play.act(&check), Answered::Instrument(_)));
    let other = Act::Fix("dry-filament".into(), Begun::Off);
    assert!(matches!(play.act(&other), Answered::No(_)));
    let value = play.waits.as_ref().unwrap().2.value;
    assert!(matches!(
        play.act(&Act::Read(10.0 * value)),
        Answered::Read(_, false)
    ));
    assert!(play.facts().findings.contains_key(&f));
    assert_eq!((play.misread, play.spent()), (1, paid));
}

#[test]
fn beliefs_sum_to_one_and_are_scored_by_what_lay_on_the_truth() {
    let case = drawn(1, Level::Clear);
    let even = shares(&[2.0; 5], &case).unwrap();
    assert!((even.iter().sum::<f64>() - 1.0).abs() < 1e-12);
    for bad in [
        &[0.0; 5][..],
        &[1.0; 4],
        &[f64::NAN; 5],
        &[-1.0, 1.0, 1.0, 1.0, 1.0],
    ] {
        assert_eq!(shares(bad, &case), None, "{bad:?}");
    }
    let sure: Vec<f64> = truth(&case)
        .into_iter()
        .map(|t| f64::from(u8::from(t)))
        .collect();
    assert_eq!(log_score(&case, &sure), 0.0);
    assert!((log_score(&case, &even) - 0.2f64.ln()).abs() < 1e-12);
    let wrong: Vec<f64> = sure.iter().map(|s| (1.0 - s) / 4.0).collect();
    assert!((log_score(&case, &wrong) - 0.01f64.ln()).abs() < 1e-12);
    let said = [(0.2, true), (0.2, false), (0.9, true), (0.0, false)];
    let bands = calibration(&said);
    let of: Vec<(usize, f64)> = bands.iter().map(|b| (b.many, b.came)).collect();
    assert_eq!(of, [(1, 0.0), (2, 0.5), (1, 1.0)]);
}

#[test]
fn a_closed_case_is_played_again_as_it_was_found() {
    let told = events("strings=hairs pops-heard=present");
    let done = events("strand-look/bubbly +dry-filament:cured");
    let all = [vec![opened()], told, done.clone()].concat();
    let none = of_past(&K, "C-007", &log(&all), vec![]);
    assert_eq!(none.unwrap_err(), NoPast::NotProved);
    let closed = Event::Resolved {
        outcome: Outcome::FixedAndVerified,
        cause: Some("filament-wet".into()),
        fix: Some("dry-filament".into()),
        note: "Ida says so".into(),
    };
    let all = [all, vec![closed.clone()]].concat();
    let case = of_past(&K, "C-007", &log(&all), vec!["Looked.".into()]).unwrap();
    let signs: Vec<&str> = case
        .told
        .findings
        .keys()
        .map(|f| K.finding(*f).id.as_str())
        .collect();
    assert!(
        signs.contains(&"strings") && !signs.contains(&"strand-look"),
        "{signs:?}"
    );
    assert!(
        !serde_json::to_string(&case.kept(&K))
            .unwrap()
            .contains("Ida")
    );
    let desk = Desk::new(&K, &WORKSHOP, &case);
    let mut play = Play::new(&desk);
    let looked = play.act(&Act::Check("strand-look".into(), Begun::Off));
    let f = K.finding_id("strand-look").unwrap();
    let bubbly = K.finding(f).state("bubbly").unwrap();
    assert_eq!(looked, Answered::State(f, bubbly));
    play.act(&Act::Fix("dry-filament".into(), Begun::Off));
    assert_eq!(play.end, Some(End::Solved));
    let silent = [vec![opened()], done, vec![closed]].concat();
    let none = of_past(&K, "C-008", &log(&silent), vec![]);
    assert_eq!(none.unwrap_err(), NoPast::NothingTold);
}

#[test]
fn the_advice_wins_on_every_level_and_the_score_orders_ways_as_minutes_do() {
    let report = ways(&K, &WORKSHOP, (24, 1), NonZeroUsize::new(2).unwrap());
    assert_eq!(report.len(), LEVELS.len());
    for level in &report {
        assert_eq!(level.cases, 24);
        let (advice, others) = level.ways.split_first().unwrap();
        assert_eq!(advice.score, 0.0);
        let mut by_score: Vec<_> = level.ways.iter().collect();
        let mut by_minutes = by_score.clone();
        by_score.sort_by(|a, b| a.score.total_cmp(&b.score));
        by_minutes.sort_by(|a, b| a.minutes.total_cmp(&b.minutes));
        assert_eq!(by_score, by_minutes);
        let best = others
            .iter()
            .map(|w| w.minutes)
            .fold(f64::INFINITY, f64::min);
        assert!(advice.minutes < best * 1.1, "{level:?}");
    }
    let mean = |way: usize| report.iter().map(|l| l.ways[way].minutes).sum::<f64>();
    assert!((1..4).all(|way| mean(0) < mean(way)), "{report:?}");
}

#[test]
fn every_card_has_one_right_answer_and_is_the_same_card_each_turn() {
    for kind in Kind::ALL {
        let cards = deck(&K, kind);
        assert!(cards.len() > 9, "{kind:?}: {}", cards.len());
        for id in cards {
            for turn in 0..2 {
                let card = lay(&K, &id, turn).unwrap();
                assert_eq!(Some(&card), lay(&K, &id, turn).as_ref());
                let right = card.answers.iter().filter(|(v, _)| *v == card.right);
                assert_eq!(right.count(), 1, "{card:?}");
                assert!(
                    card.answers.len() > 1 && !card.because.is_empty(),
                    "{card:?}"
                );
            }
        }
    }
    for none in [
        "sign/none",
        "apart/a/b",
        "caution/check/none/0",
        "caution/x",
        "tea",
        "reading/99",
    ] {
        assert!(lay(&K, none, 0).is_none(), "{none}");
    }
}

#[test]
fn what_one_gets_wrong_comes_back_soon_and_what_one_knows_after_growing_days() {
    let mut now = datetime!(2026-11-28 10:00 UTC);
    let mut memory = Memory::new(now);
    let wrong = memory.answered(false, now);
    assert!(wrong.due() - now < time::Duration::hours(1));
    let mut gaps = Vec::new();
    for _ in 0..6 {
        memory = memory.answered(true, now);
        gaps.push(memory.due() - now);
        now = memory.due();
    }
    assert!(gaps.windows(2).all(|g| g[0] <= g[1]), "{gaps:?}");
    assert!(gaps[5] > time::Duration::days(20), "{gaps:?}");
    assert_eq!(
        (memory.turns(), Memory::read(&memory.kept())),
        (6, Ok(memory))
    );
    assert!(Memory::read(&serde_json::json!({"due": "never"})).is_err());
}

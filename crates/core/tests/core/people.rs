//! Who may do what, names, passphrases, guesses, sessions.

use proptest::prelude::*;
use suspect_core::people::{
    ABSOLUTE, Attempts, Deed, GUESSES, IDLE, MemberProblem, NameProblem, Role, Strength, WINDOW,
    author, author_of, ended, keeper_stays, name, strength, wait,
};
use time::macros::datetime;
use time::{Duration, OffsetDateTime};

const NOW: OffsetDateTime = datetime!(2026-11-28 18:00 UTC);

#[test]
fn each_role_may_what_those_before_it_may_and_something_more() {
    for pair in Role::ALL.windows(2) {
        let (before, after) = (pair[0], pair[1]);
        let more = Deed::ALL
            .into_iter()
            .filter(|d| after.may(*d) && !before.may(*d));
        assert!(more.count() > 0, "{after} is more than {before}");
        assert!(
            Deed::ALL
                .into_iter()
                .all(|d| !before.may(d) || after.may(d))
        );
    }
    assert!(!Role::Volunteer.may(Deed::LiftStop) && Role::Technician.may(Deed::LiftStop));
    assert!(!Role::Technician.may(Deed::Keep) && Role::Keeper.may(Deed::Keep));
    assert_eq!(Deed::Read.least(), Role::Visitor);
}

#[test]
fn one_keeper_stays_whoever_goes() {
    let last = Err(MemberProblem::LastKeeper);
    assert_eq!(keeper_stays(1, Role::Keeper, None), last);
    assert_eq!(keeper_stays(1, Role::Keeper, Some(Role::Technician)), last);
    assert_eq!(keeper_stays(1, Role::Keeper, Some(Role::Keeper)), Ok(()));
    assert_eq!(keeper_stays(2, Role::Keeper, None), Ok(()));
    assert_eq!(keeper_stays(1, Role::Member, None), Ok(()));
}

#[test]
fn a_name_is_words_in_one_script_and_stands_for_nobody_else() {
    assert_eq!(name("  Ida  ").unwrap(), "Ida");
    assert_eq!(name("<b>Ida</b>").unwrap(), "<b>Ida</b>", "markup is text");
    assert!(name("Åsa Öberg").is_ok() && name("Юлия").is_ok());
    assert!(
        matches!(name("Idа"), Err(NameProblem::Mixed(_))),
        "a Cyrillic a"
    );
    assert!(matches!(
        name("Former  Member"),
        Err(NameProblem::Reserved(_))
    ));
    for odd in [
        "",
        "  ",
        "\u{200b}",
        "7",
        &"x".repeat(10_000),
        "I\u{202e}da",
    ] {
        assert!(matches!(name(odd), Err(NameProblem::Text(_))), "{odd:.20}");
    }
    let by = author("0193-1");
    assert!(
        suspect_core::text::is_words(&by),
        "who lifts a stop is words"
    );
    assert_eq!(author_of(&by), Some("0193-1"));
    assert_eq!(author_of("Ida"), None);
    assert!(name(&by).is_err(), "nobody is called like an author");
}

#[test]
fn a_passphrase_is_judged_by_how_soon_it_is_guessed() {
    let weak = |p: &str| matches!(strength(p, &["Ida Marlow"]), Strength::Weak(_));
    for guessed in [
        "short",
        "passwordpassword",
        "qwertyuiop",
        "Ida Marlow 1",
        "1234567890",
    ] {
        assert!(weak(guessed), "{guessed}");
    }
    assert!(!weak("teapot glacier unison mildew"));
    assert!(!weak("квартира облако ящерица"), "no rules about symbols");
    assert!(weak(&"teapot ".repeat(400)));
}

#[test]
fn guesses_slow_down_and_lock_nobody_else_out() {
    let tried = |n: usize| (n, Some(NOW));
    let pair = |n: usize| Attempts {
        pair: tried(n),
        ..Attempts::default()
    };
    assert_eq!(wait(pair(GUESSES[0] - 1), NOW), None);
    let first = wait(pair(GUESSES[0]), NOW).unwrap();
    let second = wait(pair(GUESSES[0] + 1), NOW).unwrap();
    assert!(second > first && wait(pair(1000), NOW) == Some(WINDOW));
    assert_eq!(wait(pair(GUESSES[0]), NOW + first), None, "the wait ends");
    // Many guesses from elsewhere do not count where the name signed in before.
    let known = Attempts::default();
    assert_eq!(wait(known, NOW), None);
    let spread = Attempts {
        name: tried(GUESSES[2]),
        ..Attempts::default()
    };
    assert!(wait(spread, NOW).is_some());
}

proptest! {
    #[test]
    fn a_clock_turned_back_lets_nobody_guess_oftener(n in 0usize..200, back in 0i64..100_000) {
        let attempts = Attempts { pair: (n, Some(NOW)), ..Attempts::default() };
        let (now, then) = (wait(attempts, NOW), wait(attempts, NOW - Duration::seconds(back)));
        prop_assert_eq!(now, then);
        prop_assert!(now.is_none_or(|w| w <= WINDOW));
    }

    #[test]
    fn a_session_ends_by_rest_and_by_age(began in 0i64..200, rested in 0i64..200) {
        let (began, used) = (NOW - Duration::days(began), NOW - Duration::days(rested));
        let over = ended(began, used, NOW);
        prop_assert_eq!(over, NOW - used > IDLE || NOW - began > ABSOLUTE);
        prop_assert!(ended(NOW + Duration::days(3), NOW, NOW), "begun in the future");
    }
}

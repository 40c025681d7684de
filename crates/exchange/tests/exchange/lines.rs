//! A log from elsewhere: looked through, then taken, all of it or nothing.

use crate::kit::{K, NOW, case_line, file, log, log_of, mended, workshop};
use suspect_core::case::{Entry, Event, Lost, Struck};
use suspect_core::exchange::{Line, MachineLine};
use suspect_core::testing::{log as entries, opened};
use suspect_exchange::{Report, Way, look, take};
use suspect_store::testing::{Fresh, fresh};
use time::Duration;

fn machine(name: &str) -> (String, Line) {
    let id = suspect_store::Uuid::now_v7().to_string();
    let line = Line::Machine(MachineLine {
        id: id.clone(),
        name: name.into(),
        model: "Punt 150".into(),
        profile: Default::default(),
        position: 0,
        place: String::new(),
        note: String::new(),
        out_of_service: None,
        log: Vec::new(),
    });
    (id, line)
}

fn told(more: &[Event]) -> Vec<Entry> {
    let mut all = vec![opened()];
    all.extend_from_slice(more);
    entries(&all)
}

async fn looked(db: &Fresh, text: &str) -> Report {
    let file = file(text);
    look(&db.store, &K, file.path(), NOW).await.unwrap()
}

async fn taken(db: &Fresh, text: &str, way: Way) -> Report {
    let file = file(text);
    take(&db.store, &K, file.path(), way, NOW).await.unwrap()
}

#[tokio::test(flavor = "multi_thread")]
async fn a_whole_shop_moves_to_another_server_and_is_known_there_the_second_time() {
    let there = workshop().await;
    let text = log_of(&there.store).await;
    let here = fresh().await;
    let before = looked(&here, &text).await;
    assert_eq!(
        (before.machines, before.settings, before.cases, before.wrong),
        (2, 1, 2, 0)
    );
    assert!(
        here.store.holds_nothing().await.unwrap(),
        "a look takes nothing"
    );
    let report = taken(&here, &text, Way::AllOrNothing).await;
    assert!(report.taken && report.entries == before.entries);
    assert_eq!(log_of(&here.store).await, text);
    assert_eq!(here.store.workshop().await.unwrap().0.money_per_kg, 27.5);

    let again = taken(&here, &text, Way::AllOrNothing).await;
    assert_eq!(
        (again.machines, again.cases, again.known, again.differ),
        (0, 0, 2, 0)
    );
    assert_eq!(log_of(&here.store).await, text);
    here.remove().await;
    there.remove().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn what_went_on_here_or_otherwise_stays_as_it_is() {
    let there = workshop().await;
    let text = log_of(&there.store).await;
    // Here it goes on.
    let open = there.store.latest_cases(1).await.unwrap().remove(0);
    let note = [suspect_core::testing::noted("went on")];
    let (id, last) = (open.id, open.last_seq);
    there.store.append(&K, id, last, &note, NOW).await.unwrap();
    assert_eq!(
        looked(&there, &text).await.known,
        2,
        "less is told there than here"
    );
    // There it went another way.
    let other = text.replace("it squeaks", "it sings");
    let report = taken(&there, &other, Way::AllOrNothing).await;
    assert_eq!((report.known, report.differ, report.cases), (1, 1, 0));
    assert!(log_of(&there.store).await.contains("it squeaks"));
    there.remove().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn one_bad_line_is_named_and_nothing_is_taken_unless_it_is_left_out() {
    let db = fresh().await;
    let (id, teal) = machine("Teal");
    let good = || case_line(&id, told(&mended()));
    let bad = case_line("nobody", told(&[]));
    let text = log(&[teal, good(), bad, good()]);
    let report = taken(&db, &text, Way::AllOrNothing).await;
    assert!(!report.taken && db.store.holds_nothing().await.unwrap());
    assert_eq!((report.wrong, report.problems[0].line), (1, 4));
    assert!(report.problems[0].what.contains("`nobody`"), "{report:?}");
    let report = taken(&db, &text, Way::LeaveOut).await;
    assert!(report.taken && report.cases == 2);
    db.store.rebuild(&K).await.unwrap();
    assert_eq!(db.store.lessons().await.unwrap().len(), 2, "they teach");
    db.remove().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn what_could_never_be_is_refused_with_its_entry() {
    let db = fresh().await;
    let (id, teal) = machine("Teal");
    let late = |days: i64, seq: usize| {
        let mut log = told(&mended());
        log[seq].at = NOW + Duration::days(days);
        log
    };
    let mut gap = told(&mended());
    gap.remove(1);
    let mut twice = told(&mended());
    twice[2].event = opened();
    let struck = Event::Struck(Struck {
        prints: 0,
        ..Struck::default()
    });
    let lost = Event::Lost(Lost {
        hours: Some(-1.0),
        ..Lost::default()
    });
    let faults = [
        (late(40, 3), "future"),
        (late(-400_000, 4), "older"),
        (gap, "entry 3 stands where entry 2"),
        (twice, "opened by its first entry"),
        (told(&[struck]), "entry 2, prints: 0 of 1 prints"),
        (told(&[lost]), "-1"),
        (Vec::new(), "empty"),
    ];
    for (log_of_case, words) in faults {
        let text = log(&[teal.clone(), case_line(&id, log_of_case)]);
        let report = looked(&db, &text).await;
        let what = report.problems.first().map_or("", |p| &p.what);
        assert!(
            report.wrong == 1 && what.contains(words),
            "{words}: {report:?}"
        );
    }
    db.remove().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_file_that_is_something_else_says_so() {
    let db = fresh().await;
    let (_, teal) = machine("Teal");
    let headless = serde_json::to_string(&teal).unwrap();
    let other = log(&[]).replace("usual-suspect-log/1", "usual-suspect-log/7");
    for (text, words) in [
        ("", "empty"),
        ("PK\u{3}\u{4}", "archive"),
        ("hello", "neither"),
        ("{\"head\": ", "EOF"),
        (&headless, "first line"),
        (&other, "usual-suspect-log/7"),
    ] {
        let report = looked(&db, text).await;
        let what = report.problems.first().map_or("", |p| &p.what);
        assert!(what.contains(words), "{words}: {report:?}");
    }
    db.remove().await;
}

//! The table: a row a case, out and in.

use crate::kit::{K, NOW, file, table_of, workshop};
use std::fmt::Write;
use suspect_exchange::{Report, Way, look, take};
use suspect_store::records::RecordFilter;
use suspect_store::testing::{Fresh, fresh};

async fn looked(db: &Fresh, text: &str) -> Report {
    let file = file(text);
    look(&db.store, &K, file.path(), NOW).await.unwrap()
}

async fn taken(db: &Fresh, text: &str) -> Report {
    let file = file(text);
    let way = Way::AllOrNothing;
    take(&db.store, &K, file.path(), way, NOW).await.unwrap()
}

#[tokio::test(flavor = "multi_thread")]
async fn what_a_table_says_of_a_case_comes_in_as_it_went_out() {
    let there = workshop().await;
    let text = table_of(&there.store).await;
    assert!(text.contains("\"'=the screw had worked loose\"") || text.contains("'=the screw"));
    let here = fresh().await;
    let report = taken(&here, &text).await;
    assert!(report.taken && report.cases == 2, "{report:?}");
    let mut own: Vec<Vec<String>> = Vec::new();
    for text in [&text, &table_of(&here.store).await] {
        let mut table = csv::Reader::from_reader(text.as_bytes());
        let row = table.records().next().unwrap().unwrap();
        own.push(row.iter().map(str::to_string).collect());
    }
    assert_eq!(own[0], own[1]);
    let again = taken(&here, &text).await;
    assert_eq!((again.cases, again.known + again.differ), (0, 2));
    here.store.rebuild(&K).await.unwrap();
    let filter = RecordFilter {
        words: Some("screw loose".into()),
        ..RecordFilter::default()
    };
    let found = here.store.records(&filter, 0, 9).await.unwrap();
    assert_eq!(found.1, 1, "its words are found");
    here.remove().await;
    there.remove().await;
}

/// A table of many cases, one of them bad.
fn many(rows: usize, bad: Option<usize>) -> String {
    let mut text = "machine,title,opened,closed,outcome,cause,fix,minutes\n".to_string();
    for row in 0..rows {
        let cause = if bad == Some(row) {
            "belt-lose"
        } else {
            "belt-loose"
        };
        let _ = writeln!(
            text,
            "Teal,Step {row},2026-03-01,2026-03-02,believed-fixed,{cause},tension-belt,12"
        );
    }
    text
}

#[tokio::test(flavor = "multi_thread")]
async fn one_bad_row_of_many_is_named_with_what_would_do() {
    let db = fresh().await;
    let text = many(3_000, Some(1_234));
    let report = taken(&db, &text).await;
    assert!(!report.taken && db.store.holds_nothing().await.unwrap());
    assert_eq!((report.wrong, report.problems[0].line), (1, 1_236));
    assert!(
        report.problems[0]
            .what
            .contains("did you mean `belt-loose`"),
        "{report:?}"
    );
    let report = taken(&db, &many(3_000, None)).await;
    assert_eq!(
        (report.cases, report.machines, report.taken),
        (3_000, 1, true)
    );
    let found = db
        .store
        .records(&RecordFilter::default(), 0, 1)
        .await
        .unwrap();
    assert_eq!(found.1, 3_000);
    db.remove().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_column_that_makes_no_sense_is_named() {
    let db = fresh().await;
    let head = "machine,opened,closed,outcome,proven,signs,settings,tried,held\n";
    for (row, words) in [
        ("Teal,,,,,,,,", "opened: the moment"),
        ("Teal,yesterday,,,,,,,", "opened: `yesterday` is no moment"),
        ("Teal,2026-03-01,2026-03-02,,,,,,", "outcome: a closed case"),
        (
            "Teal,2026-03-01,2026-03-02,mended,,,,,",
            "outcome: `mended` is no outcome",
        ),
        (
            "Teal,2026-03-01,2026-03-02,fixed-and-verified,,,,,",
            "proven: ",
        ),
        (
            "Teal,2026-03-01,,unsolved,,,,,",
            "closed: a case with an outcome",
        ),
        (
            "Teal,2026-03-01,,,,layer-stepp=present,,,",
            "did you mean `layer-step`",
        ),
        (
            "Teal,2026-03-01,,,,layer-step=perhaps,,,",
            "signs: layer-step",
        ),
        (
            "Teal,2026-03-01,,,,,nozzle_c=hot,,",
            "settings: `hot` is no number",
        ),
        (
            "Teal,2026-03-01,2026-03-02,unsolved,,,,tension-belt=so so,",
            "tried: `so so` is no result",
        ),
        (
            "Teal,2026-03-01,2026-03-02,unsolved,,,,,2026-02-01",
            "held: the fix cannot have held",
        ),
        (",2026-03-01,,,,,,,", "machine"),
        ("Teal,2036-03-01,,,,,,,", "future"),
        ("Teal,0000-01-01,,,,,,,", "before 1970"),
    ] {
        let report = looked(&db, &format!("{head}{row}\n")).await;
        let what = report.problems.first().map_or("", |p| &p.what);
        assert!(
            report.wrong == 1 && what.contains(words),
            "{words}: {report:?}"
        );
    }
    let report = looked(&db, "machine,opend\nTeal,2026-03-01\n").await;
    assert!(
        report.problems[0].what.contains("no column is called"),
        "{report:?}"
    );
    db.remove().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_number_out_of_reach_is_not_taken_and_the_next_case_has_one() {
    let db = fresh().await;
    let largest = i64::MAX;
    let text = format!(
        "machine,number,opened\nTeal,{largest},2026-03-01\nTeal,7,2026-03-02\nTeal,-4,2026-03-03\n"
    );
    assert!(taken(&db, &text).await.taken);
    let rows = db.store.latest_cases(9).await.unwrap();
    let mut numbers: Vec<i64> = rows.iter().map(|r| r.number).collect();
    numbers.sort_unstable();
    assert_eq!(numbers, [1, 7, 8]);
    let machine = db.store.machines().await.unwrap()[0].id;
    let next = crate::kit::case(&db.store, machine, &[]).await;
    assert_eq!(db.store.case_row(next).await.unwrap().number, 9);
    db.remove().await;
}

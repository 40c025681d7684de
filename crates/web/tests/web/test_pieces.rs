//! Test pieces and ladders: made, read, heard by a case, led to.

use crate::kit::workshop;
use axum::http::StatusCode;

#[tokio::test]
async fn pieces_are_made_read_and_heard_by_a_case() {
    let w = workshop().await;
    let all = w.get("/pieces").await;
    assert_eq!(all.all(".piece-card").len(), 9);
    let (kind, bytes) = w.pages_raw("/pieces/deck/file.stl?nozzle=0.6").await;
    assert_eq!((kind.as_str(), bytes.len()), ("model/stl", 84 + 50 * 52));
    let wrong = w.get("/pieces/deck?nozzle=5").await;
    assert!(
        wrong
            .text
            .contains("The nozzle is 5 mm, it must be from 0.15 to 1.2 mm")
    );
    let refused = w.get("/pieces/deck/file.stl?nozzle=0").await;
    assert!(refused.text.contains("The nozzle is 0 mm"));
    let nothing = w
        .post("/pieces/bollards", &[("machine", &w.machine.to_string())])
        .await;
    assert!(nothing.text.contains("Nothing was read yet"));
    let case = w.open(&[]).await;
    let id = case.rsplit('/').next().unwrap();
    let machine = w.machine.to_string();
    let fields = [
        ("machine", machine.as_str()),
        ("case", id),
        ("f.gaps", "strings=strong"),
        ("f.seams", "normal"),
        ("g.gaps", "2"),
    ];
    let read = w.post("/pieces/bollards", &fields).await;
    assert_eq!(read.status, StatusCode::SEE_OTHER, "{}", read.text);
    let told = w.get(&case).await;
    assert!(
        told.text.contains("strong strings") || told.text.contains("Strong strings"),
        "{}",
        told.text
    );
    let over_time = w.get(&format!("/pieces/bollards?machine={machine}")).await;
    let table = over_time.one(".over-time");
    assert!(
        table.contains("strong strings") && table.contains("2 of 5") && table.contains("normal")
    );
    w.db.remove().await;
}

/// A check that asks for a piece leads to it, in a case with the case.
#[tokio::test]
async fn works_that_name_a_piece_lead_to_it() {
    let w = workshop().await;
    let page = w.get("/handbook/checks/round-four-ways").await;
    assert_eq!(page.attribute(".test-piece a", "href"), "/pieces/beacons");
    let page = w.get("/handbook/fixes/raise-retraction").await;
    assert_eq!(page.attribute(".test-piece a", "href"), "/pieces/bollards");
    let case = w.open(&[]).await;
    let page = w.get(&format!("{case}/check/diagonals")).await;
    let id = case.rsplit('/').next().unwrap();
    let href = page.attribute(".test-piece a", "href");
    assert_eq!(href, format!("/pieces/quay?case={id}"));
    assert!(w.get(&href).await.text.contains("Reading sheet"));
    let page = w.get("/handbook/checks/belt-pluck").await;
    assert_eq!(page.all(".test-piece"), Vec::<String>::new());
    w.db.remove().await;
}

#[tokio::test]
async fn a_ladder_says_where_the_best_lies() {
    let w = workshop().await;
    let grades = [1, 2, 3, 5, 5, 4, 3, 1, 0];
    let grades: Vec<String> = grades
        .iter()
        .enumerate()
        .map(|(k, g)| format!("g.{}={g}", k + 1))
        .collect();
    let query = format!("unit=%C2%B0C&from=190&step=5&count=9&{}", grades.join("&"));
    let page = w.get(&format!("/trials/ladder?{query}")).await;
    assert!(page.one(".next-card h2").contains("210"), "{}", page.text);
    assert!(page.one(".next-card").contains("204") && page.one(".next-card").contains("215"));
    let none = w.get("/trials/ladder?from=190&step=0&g.1=2&g.2=3").await;
    assert!(none.text.contains("even steps"));
    w.db.remove().await;
}

//! The workshop's own figures, records found and told, history out and in.

use crate::kit::{Page, Workshop, workshop};
use axum::body::Body;
use axum::http::{Request, StatusCode, header};

/// A loose pulley, mended, proved and closed.
pub async fn mended(w: &Workshop) -> String {
    mended_with(w, &[("f.layer-step", "present")]).await
}

/// The same with signs of choice.
pub async fn mended_with(w: &Workshop, signs: &[(&str, &str)]) -> String {
    let case = w.open(signs).await;
    for (what, fields) in [
        ("check/pulley-mark", ("outcome", "slips")),
        ("fix/tighten-pulley", ("minutes", "8")),
        ("struck", ("often", "every")),
        ("verify", ("result", "cured")),
    ] {
        w.record(&case, what, &[fields]).await;
    }
    let lost = [("lost_hours", "2.5"), ("lost_grams", "31")];
    w.record(&case, "lost", &lost).await;
    let end = [
        ("outcome", "fixed-and-verified"),
        ("cause", "pulley-slips"),
        ("fix", "tighten-pulley"),
        ("note", "The screw sat beside the flat."),
    ];
    w.record(&case, "close", &end).await;
    case
}

/// Sends a file to be looked through.
async fn looked(w: &Workshop, name: &str, text: &str) -> Page {
    let body = format!(
        "--cut\r\nContent-Disposition: form-data; name=\"file\"; filename=\"{name}\"\r\n\r\n{text}\
         \r\n--cut--\r\n"
    );
    let request = Request::post("/records/exchange")
        .header(header::CONTENT_TYPE, "multipart/form-data; boundary=cut")
        .body(Body::from(body))
        .unwrap();
    w.send(request).await
}

#[tokio::test]
async fn figures_are_told_from_enough_cases_on_and_lead_to_them() {
    let w = workshop().await;
    let none = w.get("/statistics").await;
    assert!(none.text.contains("No cause was recorded in this time."));
    for _ in 0..4 {
        mended(&w).await;
    }
    let few = w.get("/statistics?span=all").await;
    assert!(few.one("#ends").contains("too few yet: 4 of 5 cases"));
    assert!(
        few.one("#cost .figure-tiles").contains("10 h"),
        "{}",
        few.one("#cost")
    );
    mended(&w).await;
    let enough = w.get("/statistics?span=all").await;
    assert!(enough.one("#ends .as-table").contains("Fixed and verified"));
    let minutes = enough.one("#minutes .figure-tiles");
    assert!(
        minutes.contains("half take no longer than") && minutes.contains(" min"),
        "{minutes}"
    );
    assert_eq!(enough.all("#strikes svg.figure-chart").len(), 1);
    let behind = enough
        .links()
        .into_iter()
        .find(|l| l.contains("cause=pulley-slips"));
    let records = w.get(&behind.expect("the cases are a touch away")).await;
    assert!(
        records
            .one(".sub")
            .contains("5 closed cases match the filter")
    );
    // A kind nobody has matches nothing, and nothing that is mistyped is an error.
    let other = w.get("/statistics?kind=nobody&span=soon&machine=x").await;
    assert_eq!(other.status, StatusCode::OK);
    w.db.remove().await;
}

#[tokio::test]
async fn records_are_found_by_what_was_said_and_a_sign_leads_to_what_fixed_it() {
    let w = workshop().await;
    mended(&w).await;
    let found = w.get("/records?q=beside+flat").await;
    assert!(found.one(".sub").contains("1 closed case matches"));
    assert!(found.one(".fixed-by").contains("1 case, last on"));
    assert!(
        w.get("/records?q=spaghetti")
            .await
            .text
            .contains("No closed case matches")
    );
    let sign = w.get("/handbook/signs/layer-step").await;
    let last_time = sign
        .links()
        .into_iter()
        .find(|l| l.starts_with("/records?sign="));
    let records = w.get(&last_time.unwrap()).await;
    assert!(records.one(".fixed-by").contains("Tighten the pulley"));
    let sorted = w.get("/records?sort=minutes&way=up&q=flat").await;
    assert_eq!(sorted.attribute("[aria-sort]", "aria-sort"), "ascending");
    w.db.remove().await;
}

#[tokio::test]
async fn a_closed_case_is_a_sheet_and_an_account_without_names() {
    let w = workshop().await;
    let case = mended(&w).await;
    let sheet = w.get(&format!("{case}/sheet")).await;
    assert!(
        sheet
            .one(".sheet-ledger")
            .contains("the pulley has turned on its shaft")
    );
    assert!(sheet.text.contains("The failed print cost 2.5"));
    let (_, file) = w.pages_raw(&format!("{case}/sheet.md")).await;
    let file = String::from_utf8(file).unwrap();
    assert!(
        file.contains("**What was done**") && file.contains("Tighten the pulley"),
        "{file}"
    );

    let machine = w.db.store.machines().await.unwrap().remove(0).name;
    let account = w.get(&format!("{case}/account")).await;
    let text = account.one("#markdown");
    assert!(
        text.contains("## What told") && text.contains("It was: loose pulley"),
        "{text}"
    );
    assert!(
        !text.contains("beside the flat") && !text.contains(&machine),
        "{text}"
    );
    let with = w.get(&format!("{case}/account?chosen=yes&note=yes")).await;
    assert!(with.one("#markdown").contains("beside the flat"));
    let open = w.open(&[("f.layer-step", "present")]).await;
    let refused = w.get(&format!("{open}/account")).await;
    assert!(refused.text.contains("close it first"));
    w.db.remove().await;
}

#[tokio::test]
async fn what_the_failed_print_cost_is_asked_with_the_case_and_kept_while_wrong() {
    let w = workshop().await;
    let case = w.open(&[("f.layer-step", "present")]).await;
    let sent = async |fields: &[(&str, &str)]| {
        let seq = w.get(&case).await.seq();
        let all = [&[("seq", seq.as_str())], fields].concat();
        w.post(&format!("{case}/lost"), &all).await
    };
    let again = sent(&[("lost_hours", "-3"), ("lost_grams", "31")]).await;
    assert_eq!(again.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(
        again.attribute("#lost_hours", "value"),
        "-3",
        "what was typed stays"
    );
    assert!(again.one(".error").contains("between 0 and"));
    let nothing = sent(&[("lost_hours", "")]).await;
    assert_eq!(nothing.status, StatusCode::UNPROCESSABLE_ENTITY);
    w.record(&case, "lost", &[("lost_hours", "3"), ("lost_first", "yes")])
        .await;
    assert!(w.get(&case).await.one("dl.cost").contains("3 h"));
    w.db.remove().await;
}

#[tokio::test]
async fn a_history_goes_out_and_is_looked_through_before_it_comes_in() {
    let w = workshop().await;
    mended(&w).await;
    let (_, table) = w.pages_raw("/records/cases.csv").await;
    assert!(
        String::from_utf8(table)
            .unwrap()
            .starts_with("id,number,machine")
    );
    let (_, archive) = w.pages_raw("/records/backup.zip").await;
    assert!(archive.starts_with(b"PK"));
    let (_, log) = w.pages_raw("/records/log.jsonl").await;
    let log = String::from_utf8(log).unwrap();

    let known = looked(&w, "log.jsonl", &log).await;
    assert!(
        known.one(".looked").contains("1 cases are here already"),
        "{}",
        known.text
    );
    let rows = "machine,title,opened,closed,outcome,cause,fix\n\
                Swift,Old step,2026-03-01,2026-03-02,believed-fixed,belt-loose,tension-belt\n";
    let bad = format!("{rows}Swift,Another,yesterday,,,,\n");
    let named = looked(&w, "bad.csv", &bad).await;
    assert!(
        named.one(".looked").contains("Line 3: opened"),
        "{}",
        named.one(".looked")
    );
    assert!(
        w.get("/records")
            .await
            .one(".sub")
            .contains("1 closed case"),
        "a look takes nothing"
    );
    let good = looked(&w, "good.csv", rows).await;
    let token = good.attribute(".looked input[name=token]", "value");
    let took = [("token", token.as_str()), ("way", "all")];
    let taken = w.post("/records/exchange/take", &took).await;
    assert!(taken.text.contains("Taken in."), "{}", taken.text);
    assert!(
        w.get("/records")
            .await
            .one(".sub")
            .contains("2 closed cases")
    );
    let twice = w.post("/records/exchange/take", &took).await;
    assert!(twice.text.contains("does not wait any more"));
    w.db.remove().await;
}

//! A whole case without scripts, from the floor to the record.

use crate::kit::{Page, Workshop, workshop};
use axum::http::StatusCode;

#[tokio::test]
async fn a_whole_case_from_the_floor_to_the_record_without_scripts() {
    let w = workshop().await;
    let floor = w.get("/").await;
    assert_eq!(floor.one(".machine h2"), "Teal");
    let new = w.get(&floor.attribute(".machine-foot a", "href")).await;
    assert!(new.all("input[name=machine]").is_empty(), "the only one");
    let id = new.attribute("input[name=case_id]", "value");
    let machine = w.machine.to_string();
    let told = "Puppet joint stepped. Suddenly one step sideways, no strings";
    let opened = [
        ("case_id", id.as_str()),
        ("machine", machine.as_str()),
        ("told", told),
    ];
    let intake = w.post("/cases", &opened).await.to.unwrap();
    assert_eq!(
        w.post("/cases", &opened).await.to.as_deref(),
        Some(intake.as_str()),
        "the same form sent twice opens one case"
    );
    // What was read from the words counts nothing until it is confirmed.
    let page = w.get(&intake).await;
    assert!(
        page.one("#strip").contains("Before any fact"),
        "{}",
        page.one("#strip")
    );
    let proposals = page.all(".proposal strong");
    assert_eq!(
        proposals,
        [
            "Flawless before, then suddenly bad",
            "One sideways step, straight above it",
            "No strings"
        ]
    );
    let case = intake.strip_suffix("/intake").unwrap().to_string();
    confirmed(&w, &case, &intake, &page).await;
    touched_and_typed(&w, &case, &intake).await;
    checked_fixed_and_closed(&w, &case).await;
    recorded(&w).await;
    w.db.remove().await;
}

async fn recorded(w: &Workshop) {
    let records = w
        .get("/records?cause=pulley-slips&outcome=fixed-and-verified")
        .await;
    let row = records.one("tbody tr");
    for part in [
        "Puppet joint",
        "Teal",
        "Loose pulley",
        "Tighten the pulley",
        "fixed and verified",
    ] {
        assert!(row.contains(part), "{part} in {row}");
    }
    assert!(
        w.get("/records?cause=belt-loose")
            .await
            .text
            .contains("No closed case matches")
    );
}

/// Each proposal confirmed, until none is left.
async fn confirmed(w: &Workshop, case: &str, intake: &str, page: &Page) {
    for proposal in page.ids(".proposals li") {
        let page = w.get(intake).await;
        let hidden =
            |name: &str| page.attribute(&format!("#{proposal} form input[name={name}]"), "value");
        let (finding, state, confidence) =
            (hidden("finding"), hidden("state"), hidden("confidence"));
        w.record(
            case,
            "observe",
            &[
                ("finding", &finding),
                ("state", &state),
                ("confidence", &confidence),
                ("part", "words"),
            ],
        )
        .await;
    }
    assert!(
        w.get(&format!("{intake}?part=words"))
            .await
            .all(".proposals li")
            .is_empty()
    );
}

async fn touched_and_typed(w: &Workshop, case: &str, intake: &str) {
    // Signs are touched on the drawing of the print, numbers typed beside their windows.
    let map = w.get(&format!("{intake}?part=print&at=band")).await;
    assert_eq!(
        map.one("#b-layer-step-present[aria-pressed=true]"),
        "Yes, this"
    );
    assert_eq!(
        map.attribute(".spot[aria-current]", "aria-label"),
        "Band at a height, 1 seen"
    );
    w.record(
        case,
        "numbers",
        &[
            ("title", "Puppet joint"),
            ("spool", "orange"),
            ("material", "petg"),
            ("n.nozzle_c", "464 F"),
        ],
    )
    .await;
    let numbers = w.get(&format!("{intake}?part=numbers")).await;
    assert!(
        numbers.one("#w-nozzle_c").contains("PETG 230 to 250")
            && numbers.one("#w-nozzle_c").contains("464 F read as 240 °C")
    );
}

/// The line-up, a check, the fix, its proof, the end.
async fn checked_fixed_and_closed(w: &Workshop, case: &str) {
    let page = w.get(case).await;
    assert!(page.one("h1").contains("Puppet joint"));
    assert!(page.all(".line-up.wide .figure").len() >= 4);
    assert!(page.all(".ledger-rows tr").len() >= 3);

    let check = w.get(&format!("{case}/check/pulley-mark?step=0")).await;
    assert!(
        check
            .all(".caution")
            .iter()
            .any(|c| c.contains("Switch the machine off"))
    );
    let answered = w
        .post(
            &format!("{case}/check/pulley-mark"),
            &[
                ("seq", &check.seq()),
                ("outcome", "slips"),
                ("minutes", "5,5"),
            ],
        )
        .await;
    assert_eq!(answered.to.as_deref(), Some(case));
    let page = w.get(case).await;
    assert!(
        page.one(".line-up.wide .chosen .name")
            .contains("Loose pulley")
    );
    assert!(
        page.text.contains("class=\"ghost\""),
        "the last step leaves a ghost"
    );
    assert!(
        page.one(".next").contains("Tighten the pulley"),
        "the fix is offered, as the best step or beside it"
    );

    fixed_and_closed(w, case).await;
}

async fn fixed_and_closed(w: &Workshop, case: &str) {
    let fix = w.get(&format!("{case}/fix/tighten-pulley")).await;
    let applied = w
        .post(
            &format!("{case}/fix/tighten-pulley"),
            &[("seq", &fix.seq()), ("minutes", "8")],
        )
        .await;
    let verify = w.get(&applied.to.unwrap()).await;
    assert!(verify.one("#struck").contains("How often"), "asked once");
    let struck = w
        .post(
            &format!("{case}/struck"),
            &[("seq", &verify.seq()), ("often", "every")],
        )
        .await;
    let verify = w.get(&struck.to.unwrap()).await;
    assert!(verify.one(".proof-state").contains("One clean print"));
    let proven = w
        .post(
            &format!("{case}/verify"),
            &[("seq", &verify.seq()), ("result", "cured"), ("grams", "6")],
        )
        .await;
    let close = w.get(&proven.to.unwrap()).await;
    assert_eq!(
        close.attribute("input[name=outcome][checked]", "value"),
        "fixed-and-verified"
    );
    assert_eq!(
        close.attribute("input[name=cause][checked]", "value"),
        "pulley-slips"
    );
    let closed = w
        .post(
            &format!("{case}/close"),
            &[
                ("seq", &close.seq()),
                ("outcome", "fixed-and-verified"),
                ("cause", "pulley-slips"),
                ("fix", "tighten-pulley"),
                ("note", "Beside the flat."),
            ],
        )
        .await;
    assert_eq!(closed.status, StatusCode::SEE_OTHER);
}

#[tokio::test]
async fn undo_takes_back_by_retraction_and_the_history_keeps_it() {
    let w = workshop().await;
    let case = w.open(&[("f.layer-step", "present")]).await;
    let before = w.get(&case).await.one(".ledger .total");
    let seq = w.get(&case).await.seq();
    w.post(
        &format!("{case}/check/pulley-mark"),
        &[("seq", &seq), ("outcome", "slips")],
    )
    .await;
    let page = w.get(&case).await;
    let (seq, entry) = (
        page.seq(),
        page.attribute(".unseen-form input[name=entry]", "value"),
    );
    w.post(
        &format!("{case}/retract"),
        &[("seq", &seq), ("entry", &entry)],
    )
    .await;
    let page = w.get(&case).await;
    assert_eq!(page.one(".ledger .total"), before);
    assert!(page.one(".undone").contains("Mark the pulley"));
    w.db.remove().await;
}

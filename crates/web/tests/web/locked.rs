//! What holds a machine is told on every page, paper and file of it.

use crate::kit::{Page, Workshop, workshop};
use axum::http::StatusCode;
use std::collections::BTreeSet;

/// Words by which a page would have somebody print, heat or move the machine.
const ADVICE: [&str; 9] = [
    "Prove it by printing",
    "Print and compare",
    "Next best step",
    "First step as it looks now",
    "Lead me through it",
    "Show me how",
    "The first step",
    "within 30 min",
    "It prints: wait",
];

/// Every page and file below a case, found by following its links.
pub async fn all_below(w: &Workshop, case: &str) -> Vec<(String, Page)> {
    let machine = format!("/machines/{}", w.machine);
    let mut open: Vec<String> = [
        "",
        "/intake",
        "/brief",
        "/brief.md",
        "/plan",
        "/stuck",
        "/facts",
    ]
    .iter()
    .chain(&[
        "/close",
        "/verify",
        "/move",
        "/fix/tighten-pulley",
        "/check/belt-pluck",
    ])
    .chain(&[
        "/check/cold-pull?step=2",
        "/intake?part=words",
        "/intake?part=numbers",
    ])
    .map(|below| format!("{case}{below}"))
    .collect();
    open.extend([
        "/".to_string(),
        machine.clone(),
        format!("{machine}/before"),
    ]);
    let links = w
        .state
        .store
        .help_links(case.rsplit('/').next().unwrap().parse().unwrap())
        .await;
    open.extend(links.unwrap().iter().map(|l| format!("/help/{}", l.token)));
    let mut seen = BTreeSet::new();
    let mut pages = Vec::new();
    while let Some(path) = open.pop() {
        if !seen.insert(path.clone()) || seen.len() > 120 {
            continue;
        }
        let page = w.get(&path).await;
        for link in page.links() {
            let link = link.split('#').next().unwrap_or_default().to_string();
            if link.starts_with(case) && !link.ends_with(".jpg") {
                open.push(link);
            }
        }
        pages.push((path, page));
    }
    pages
}

async fn nothing_runs_the_machine(w: &Workshop, case: &str) {
    let pages = all_below(w, case).await;
    assert!(pages.len() > 20, "{}", pages.len());
    for (path, page) in pages {
        let said = page.text.to_lowercase().contains("locked");
        assert!(
            said,
            "{path} does not say that the machine is locked: {}",
            page.text
        );
        for advice in ADVICE {
            // A case of its own stop names the check that leads to its clearing.
            assert!(!page.text.contains(advice), "{path} says \"{advice}\"");
        }
        for selector in [".outcomes .outcome", "form[action$='/verify']", ".guide"] {
            let there = page.all(selector);
            assert!(there.is_empty(), "{path}: {selector} {there:?}");
        }
    }
}

#[tokio::test]
async fn no_page_paper_or_file_of_a_locked_machine_tells_to_print_heat_or_move() {
    let w = workshop().await;
    // Three cases of one machine: looking, waiting for its proof, proved; a fourth locks it.
    let mut cases = Vec::new();
    for n in 0..3 {
        let case = w
            .open(&[("f.layer-step", "present"), ("f.onset", "sudden")])
            .await;
        w.record(&case, "links", &[]).await;
        if n > 0 {
            w.record(&case, "check/pulley-mark", &[("outcome", "slips")])
                .await;
            w.record(&case, "fix/tighten-pulley", &[("minutes", "8")])
                .await;
        }
        if n > 1 {
            w.record(&case, "struck", &[("often", "every")]).await;
            w.record(&case, "verify", &[("result", "cured")]).await;
        }
        cases.push(case);
    }
    let locking = w.open(&[("f.burnt-smell", "present")]).await;
    for case in &cases {
        nothing_runs_the_machine(&w, case).await;
        // The floor's own summary and the brief name the case that holds it.
        let brief = String::from_utf8(w.pages_raw(&format!("{case}/brief.md")).await.1).unwrap();
        assert!(brief.contains("locked by C-004"), "{brief}");
    }
    assert_eq!(
        w.get("/")
            .await
            .all(".strip-next")
            .iter()
            .filter(|n| n.contains("C-004"))
            .count(),
        2
    );
    // Lifted, everything goes on where it was.
    w.lift(&locking, "burning", "M. Reed", "New plug and socket")
        .await;
    assert!(w.get(&cases[1]).await.text.contains("Prove it by printing"));
    assert!(
        w.get(&cases[0])
            .await
            .one(".next")
            .contains("Next best step")
    );
    w.db.remove().await;
}

#[tokio::test]
async fn a_machine_locked_by_its_build_is_told_so_everywhere_and_freed_by_changing_it() {
    let w = workshop().await;
    let case = w.open(&[("f.layer-step", "present")]).await;
    w.record(&case, "fix/tighten-pulley", &[("minutes", "8")])
        .await;
    w.record(&case, "links", &[]).await;
    let machine = format!("/machines/{}", w.machine);
    let edit = format!("{machine}/edit");
    let profile = [
        ("name", "Teal"),
        ("model", "Skerry 300"),
        ("feed", "direct"),
        ("hotend", "all-metal"),
        ("motion", "crossed-belt"),
        ("levelling", "probe"),
    ];
    let send = async |extra: &[(&str, &str)]| {
        let seq = w.get(&edit).await.seq();
        let mut fields = vec![("seq", seq.as_str())];
        fields.extend(profile);
        fields.extend(extra);
        w.post(&edit, &fields).await
    };
    assert_eq!(
        send(&[("board_age", "unprotected")]).await.status,
        StatusCode::SEE_OTHER
    );
    nothing_runs_the_machine(&w, &case).await;
    told_on_case_stop_and_tag(&w, &case, &machine).await;
    // The change that ends the stop takes a name, a reason and each step.
    let asked = send(&[("board_age", "protected")]).await;
    assert_eq!(asked.status, StatusCode::UNPROCESSABLE_ENTITY);
    let steps = asked.all("input[name=seen]").len();
    assert!(steps > 3 && asked.text.contains("This change ends a stop"));
    let ticks: Vec<String> = (1..=steps).map(|n| n.to_string()).collect();
    let mut all = vec![
        ("board_age", "protected"),
        ("by", "M. Reed"),
        ("reason", "New board"),
    ];
    all.extend(ticks.iter().skip(1).map(|n| ("seen", n.as_str())));
    let missing = send(&all).await;
    assert!(missing.all(".error").concat().contains("Step 1 of"));
    all.push(("seen", "1"));
    assert_eq!(send(&all).await.status, StatusCode::SEE_OTHER);
    assert!(
        w.get(&machine)
            .await
            .text
            .contains("Stop lifted by M. Reed: New board")
    );
    assert!(w.get(&case).await.text.contains("Prove it by printing"));
    let enclosed = [("board_age", "protected"), ("enclosure", "closed")];
    assert_eq!(send(&enclosed).await.status, StatusCode::SEE_OTHER);
    taken_over(&w, &case).await;
    w.db.remove().await;
}

/// The open case is offered what changed on its machine, once.
async fn taken_over(w: &Workshop, case: &str) {
    assert!(w.get(case).await.one("#build-news").contains("closed"));
    w.record(case, "build", &[]).await;
    assert!(w.get(case).await.all("#build-news").is_empty());
}

async fn told_on_case_stop_and_tag(w: &Workshop, case: &str, machine: &str) {
    let stop = format!("{machine}/stop/no-runaway-protection");
    assert!(w.get(case).await.links().contains(&stop));
    assert!(w.get(&stop).await.one(".stop-box").contains("runaway"));
    let tag = w.get(&format!("{stop}/tag")).await;
    assert!(tag.one(".tag").contains("since ") && tag.one(".tag-address").ends_with(&machine));
}

#[tokio::test]
async fn a_machine_out_of_service_says_so_and_comes_back() {
    let w = workshop().await;
    let case = w.open(&[]).await;
    let machine = format!("/machines/{}", w.machine);
    let send = async |fields: &[(&str, &str)]| {
        let seq = w
            .get(&machine)
            .await
            .attribute("#work input[name=seq]", "value");
        let mut all = vec![("seq", seq.as_str())];
        all.extend(fields);
        w.post(&format!("{machine}/service"), &all).await.status
    };
    assert_eq!(
        send(&[("to", "out"), ("reason", "")]).await,
        StatusCode::UNPROCESSABLE_ENTITY
    );
    assert_eq!(
        send(&[("to", "out"), ("reason", "Waits for a belt")]).await,
        StatusCode::SEE_OTHER
    );
    assert!(
        w.get("/")
            .await
            .one(".state.still")
            .contains("Out of service")
    );
    assert!(w.get(&case).await.text.contains("Waits for a belt"));
    assert_eq!(send(&[("to", "in")]).await, StatusCode::SEE_OTHER);
    assert!(w.get("/").await.all(".state.still").is_empty());
    let log = w.get(&machine).await.all(".machine-log li");
    assert!(log[0].contains("Back in service") && log[1].contains("Waits for a belt"));
    w.db.remove().await;
}

#[tokio::test]
async fn a_case_on_the_wrong_machine_is_moved_and_one_that_never_was_is_counted_nowhere() {
    let w = workshop().await;
    let dipper = w.second_machine().await.to_string();
    let case = w.open(&[("f.layer-step", "present")]).await;
    let page = w.get(&format!("{case}/move")).await;
    assert_eq!(page.all("#machine option").len(), 2);
    let seq = page.seq();
    let no_reason = w
        .post(
            &format!("{case}/move"),
            &[("seq", &seq), ("machine", &dipper)],
        )
        .await;
    assert!(no_reason.one(".error").contains("eason"));
    w.record(
        &case,
        "move",
        &[("machine", &dipper), ("reason", "It is Dipper")],
    )
    .await;
    let page = w.get(&case).await;
    assert!(
        page.one(".sub").contains("Dipper") && page.one(".history").contains("Moved to Dipper")
    );
    let closing = w.get(&format!("{case}/close")).await;
    let offered =
        closing.all(".outcome-choices label, input[name=outcome] + span, #outcome option");
    assert!(
        !offered.iter().any(|o| o == "Fixed and verified"),
        "{offered:?}"
    );
    let seq = closing.seq();
    let send = async |fields: &[(&str, &str)]| {
        let mut all = vec![("seq", seq.as_str())];
        all.extend(fields);
        w.post(&format!("{case}/close"), &all).await
    };
    let unproved = send(&[("outcome", "fixed-and-verified"), ("cause", "pulley-slips")]).await;
    assert_eq!(unproved.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(unproved.text.contains("believed fixed, not proved"));
    let why = send(&[("outcome", "opened-by-error"), ("note", "")]).await;
    assert_eq!(why.status, StatusCode::UNPROCESSABLE_ENTITY);
    let done = send(&[("outcome", "opened-by-error"), ("note", "Wrong button")]).await;
    assert_eq!(done.status, StatusCode::SEE_OTHER);
    assert!(w.get("/records").await.text.contains("0 closed cases"));
    assert!(
        w.get("/records?outcome=opened-by-error")
            .await
            .text
            .contains("1 closed case")
    );
    assert!(
        w.get(&case).await.text.contains("opened by error"),
        "it is kept"
    );
    w.db.remove().await;
}

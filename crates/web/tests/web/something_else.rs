//! What the handbook does not list, in one's own words; two cases joined; a suggestion taken up;
//! the list of all facts as it is saved.

use crate::kit::{Workshop, workshop};
use axum::http::StatusCode;

#[tokio::test]
async fn any_check_is_found_and_what_is_not_listed_is_told_in_own_words() {
    let w = workshop().await;
    let case = w.open(&[("f.strings", "strong")]).await;
    let page = w.get(&format!("{case}/other?q=pluck+the+belt")).await;
    let found = page.attribute(".work-list a", "href");
    assert!(found.starts_with(&format!("{case}/check/")), "{found}");
    assert_eq!(w.get(&found).await.status, StatusCode::OK);
    let own = |outcome: &'static str, how: &'static str| {
        vec![
            ("what", "check"),
            ("check-name", "swapped the spools"),
            ("check-outcome", outcome),
            ("check-outcomes", "stayed; unclear"),
            ("check-speaks", "filament-wet"),
            ("check-how", how),
            ("check-minutes", "9"),
        ]
    };
    // Whom it speaks of, but not how: asked again, nothing lost.
    let seq = w.get(&case).await.seq();
    let mut half = own("went along", "");
    half.push(("seq", seq.as_str()));
    let asked = w.post(&format!("{case}/other"), &half).await;
    assert_eq!(asked.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(
        asked.attribute("#check-name", "value"),
        "swapped the spools"
    );
    assert!(asked.one(".error").contains("for or against"));
    w.record(&case, "other", &own("went along", "clearly-for"))
        .await;
    let page = w.get(&case).await;
    let ledger = page.all(".ledger-rows th").join("|");
    assert!(
        ledger.contains("Swapped the spools: went along (own words)"),
        "{ledger}"
    );
    assert!(
        page.all(".history .what")
            .join("|")
            .contains("clearly for wet filament")
    );
    // It is offered again in the next case.
    let next = w.open(&[("f.layer-step", "present")]).await;
    let offered = w.get(&format!("{next}/other")).await;
    assert!(offered.one("#own-check").contains("went along") || offered.text.contains("stayed"));
    assert_eq!(
        offered.attribute("#own-checks option", "value"),
        "swapped the spools"
    );
    w.db.remove().await;
}

/// Until somebody says how often it struck, nothing is verified.
async fn told_how_often(w: &Workshop, case: &str) {
    let close = w.get(&format!("{case}/close")).await;
    assert!(!close.text.contains("value=\"fixed-and-verified\""));
    w.record(case, "struck", &[("often", "every")]).await;
}

#[tokio::test]
async fn a_cause_in_own_words_is_recorded_counted_and_linked_later() {
    let w = workshop().await;
    let case = w.open(&[("f.strings", "strong")]).await;
    let fix = [
        ("what", "fix"),
        ("fix-name", "Wrapped the spool"),
        ("fix-result", "cured"),
        ("fix-money", "1,5"),
        ("fix-minutes", "30"),
    ];
    w.record(&case, "other", &fix).await;
    told_how_often(&w, &case).await;
    let close = w.get(&format!("{case}/close")).await;
    assert!(close.one(".sub").contains("1.50 €"));
    assert_eq!(close.attribute("#fix_own", "value"), "Wrapped the spool");
    let fields = [
        ("outcome", "fixed-and-verified"),
        ("cause", "own"),
        ("cause_own", "damp cellar"),
        ("fix", "own"),
        ("fix_own", "Wrapped the spool"),
    ];
    w.record(&case, "close", &fields).await;
    assert!(
        w.get(&case)
            .await
            .one(".closed-box")
            .contains("Damp cellar (own words)")
    );
    let records = w.get("/records").await;
    let row = records.one(".records tbody tr");
    for part in ["Damp cellar", "Wrapped the spool", "1.50 €"] {
        assert!(row.contains(part), "{part} in {row}");
    }
    // It turns out to be known: the records count it there, the case stays as it was written.
    let own = w.get("/records/own").await;
    assert!(own.one("main").contains("once what it was"));
    let link = [
        ("seq", own.seq()),
        ("own/damp cellar", "filament-wet".to_string()),
    ];
    let link: Vec<(&str, &str)> = link.iter().map(|(n, v)| (*n, v.as_str())).collect();
    assert_eq!(
        w.post("/records/own", &link).await.status,
        StatusCode::SEE_OTHER
    );
    let filtered = w.get("/records?cause=filament-wet").await;
    let row = filtered.one(".records tbody tr");
    assert!(row.contains("Wet filament, told as Damp cellar"), "{row}");
    assert!(
        w.get(&case)
            .await
            .one(".closed-box")
            .contains("Damp cellar")
    );
    w.db.remove().await;
}

#[tokio::test]
async fn two_cases_of_one_trouble_become_one_and_nothing_is_lost() {
    let w = workshop().await;
    let keeps = w.open(&[("f.strings", "strong")]).await;
    let twin = w
        .open(&[("f.pops-heard", "present"), ("n.nozzle_c", "215")])
        .await;
    let page = w.get(&format!("{twin}/join")).await;
    let into = page.attribute("input[name=into]", "value");
    assert!(keeps.ends_with(&into));
    w.record(&twin, "join", &[("into", &into)]).await;
    let page = w.get(&keeps).await;
    let history = page
        .all(".history .what, .history summary, .history li li")
        .join("|");
    for part in ["Joined with C-002", "Hiss or popping", "215 °C"] {
        assert!(page.text.contains(part), "{part} in {history}");
    }
    let closed = w.get(&twin).await;
    assert!(
        closed.one(".closed-box").contains("Goes on in C-001"),
        "{}",
        closed.text
    );
    assert_eq!(
        w.get("/records").await.all(".records tbody tr").len(),
        0,
        "counted nowhere"
    );
    // A closed case takes nothing in.
    let other = w.open(&[]).await;
    let seq = w.get(&other).await.seq();
    let id = twin.rsplit('/').next().unwrap();
    let refused = w
        .post(&format!("{other}/join"), &[("seq", &seq), ("into", id)])
        .await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    w.db.remove().await;
}

#[tokio::test]
async fn what_a_helper_suggests_is_said_and_taking_it_up_does_it() {
    let w = workshop().await;
    let case = w.open(&[("f.strings", "strong")]).await;
    w.record(&case, "links", &[]).await;
    let help = w
        .get(&format!("{case}/brief"))
        .await
        .attribute(".help-link a", "href");
    let help = help[help.find("/help/").unwrap()..].to_string();
    let said = [
        ("by", "M. Reed"),
        ("cause", "filament-wet"),
        ("check", "cold-pull"),
        ("text", "Look at the spool bag."),
    ];
    w.post(&format!("{help}/suggest"), &said).await;
    assert!(
        w.get("/")
            .await
            .one(".strip-hearsay")
            .contains("1 suggestion waits")
    );
    let page = w.get(&case).await;
    assert!(page.one(".case-head").contains("1 suggestion waits"));
    assert_eq!(page.attribute("#live", "data-hearsay"), "1");
    let suggestion = page.attribute("input[name=suggestion]", "value");
    let weigh = [("suggestion", suggestion.as_str()), ("taken", "yes")];
    let taken = w.record(&case, "weigh", &weigh).await;
    assert!(
        taken.to.unwrap().contains("suspect=filament-wet"),
        "looked into"
    );
    let page = w.get(&case).await;
    assert!(
        page.one(".step:not(.glance) .eyebrow")
            .contains("as M. Reed suggested")
    );
    assert!(page.one(".step:not(.glance) h2").contains("cold pull"));
    let history = page.all(".history .what, .history li li .what").join("|");
    assert!(
        history.contains("M. Reed said: Look at the spool bag."),
        "{history}"
    );
    assert!(
        history.contains("Taken up: “Hearsay from M. Reed"),
        "{history}"
    );
    w.db.remove().await;
}

#[tokio::test]
async fn the_list_of_facts_is_saved_as_it_is_given_and_only_read_once_closed() {
    let w = workshop().await;
    let case = w.open(&[("f.strings", "strong")]).await;
    let stay = [("f.pops-heard", "present"), ("stay", "yes")];
    let saved = w.record(&case, "facts", &stay).await;
    assert_eq!(saved.to.as_deref(), Some(format!("{case}/facts").as_str()));
    w.record(&case, "close", &[("outcome", "unsolved")]).await;
    let list = w.get(&format!("{case}/facts")).await;
    assert!(
        list.text
            .contains("<fieldset class=\"all-facts\" disabled>")
    );
    assert!(list.one(".question-mark").contains("closed"));
    assert!(list.all(".at-hand button").is_empty());
    w.db.remove().await;
}

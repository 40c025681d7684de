//! Trial series and test pieces: a whole series by forms, what is refused, what a case hears.

use crate::kit::{Page, Workshop, workshop};
use axum::http::StatusCode;

/// A series on the workshop's machine, for a case or not; its address.
pub async fn begun(w: &Workshop, more: &[(&str, &str)]) -> String {
    let machine = w.machine.to_string();
    let mut fields = vec![
        ("name", "Rough curves"),
        ("machine", &machine),
        ("bad", "1"),
    ];
    fields.extend(more);
    let page = w.post("/trials", &fields).await;
    assert_eq!(page.status, StatusCode::SEE_OTHER, "{}", page.text);
    page.to.unwrap().trim_end_matches("/differences").to_owned()
}

pub async fn listed(w: &Workshop, series: &str, text: &str) -> Page {
    let seq = w.get(&format!("{series}/differences")).await.seq();
    let fields = [("seq", seq.as_str()), ("pasted", text)];
    w.post(&format!("{series}/differences"), &fields).await
}

/// Makes the proposed piece and grades it; the label.
async fn printed(w: &Workshop, series: &str, grade: &dyn Fn(&[String]) -> &'static str) -> String {
    let page = w.get(series).await;
    let label = page.attribute(".next-piece input[name=label]", "value");
    let old: Vec<String> = page.values(".next-piece > .piece-card input[name=old]");
    let seq = page.seq();
    let mut fields = vec![("seq", seq.as_str()), ("label", label.as_str())];
    fields.extend(old.iter().map(|o| ("old", o.as_str())));
    let made = w.post(&format!("{series}/pieces"), &fields).await;
    assert_eq!(made.status, StatusCode::SEE_OTHER, "{}", made.text);
    let piece = format!("{series}/pieces/{label}");
    let seq = w.get(&piece).await.seq();
    let fields = [("seq", seq.as_str()), ("grade", grade(&old))];
    let graded = w.post(&piece, &fields).await;
    assert_eq!(graded.status, StatusCode::SEE_OTHER, "{}", graded.text);
    label
}

pub const LIST: &str = "corner smoothing: off -> on\npressure compensation: 0 -> 0.045\nfan: 100 \
    % -> 60 %\nflow: 1.0 -> 0.95\nouter wall speed: 35 -> 60";

/// The case heard of it, with its looks, and ranks by it.
async fn heard(w: &Workshop, case: &str) {
    let told = w.get(case).await;
    assert!(told.text.contains("Rough curves"), "{}", told.text);
    let ledger = w.get(&format!("{case}?suspect=speed-too-high")).await;
    assert!(
        ledger.text.contains("Trial series “Rough curves”"),
        "{}",
        ledger.text
    );
}

/// The settings to keep are proposed, kept, and stand in the machine's log and the report.
async fn ended(w: &Workshop, series: &str) {
    let finish = w.get(&format!("{series}/finish")).await;
    assert_eq!(
        finish.values("input[name=old][checked]"),
        ["outer wall speed"]
    );
    // Before anything is reported, the counter-proof is one touch away.
    let counter = finish.attribute(".hint a", "href");
    let counter = w.get(&counter).await;
    assert!(
        counter
            .one(".next-piece")
            .contains("put back but outer wall speed")
    );
    let seq = finish.seq();
    let fields = [
        ("seq", seq.as_str()),
        ("how", "solved"),
        ("old", "outer wall speed"),
    ];
    w.post(&format!("{series}/finish"), &fields).await;
    let ended = w.get(series).await;
    assert!(ended.one(".series-end").contains("outer wall speed") && ended.text.contains("35"));
    let machine = w.get(&format!("/machines/{}", w.machine)).await;
    assert!(
        machine
            .one(".machine-log")
            .contains("Trials ended: Rough curves. Kept:")
    );
    let report = w.get(&format!("{series}/report.md")).await;
    assert!(
        report
            .text
            .contains("Putting back outer wall speed cures it"),
        "{}",
        report.text
    );
    assert!(report.text.contains("| outer wall speed | 35 | 60 |"));
}

/// A series with a graded piece and one that waits, and every page of trials and test pieces.
pub async fn every_page(w: &Workshop) -> Vec<String> {
    let series = begun(w, &[]).await;
    listed(w, &series, LIST).await;
    let graded = printed(w, &series, &|_| "4").await;
    let of_series = [
        "",
        "/differences",
        "/choose?ask=1&old=fan",
        "/tray",
        "/finish",
    ];
    let mut pages: Vec<String> = of_series
        .iter()
        .map(|what| format!("{series}{what}"))
        .collect();
    pages.push(format!("{series}/pieces/{graded}"));
    pages.push(format!("{series}/pieces/{graded}/label"));
    let others = [
        "/trials",
        "/trials/new",
        "/trials/ladder?unit=C&from=190&step=5&count=3&g.1=2&g.2=5&g.3=3",
        "/pieces",
        "/pieces/pins",
        "/pieces/deck",
    ];
    pages.extend(others.map(String::from));
    pages
}

#[tokio::test]
async fn a_series_is_followed_to_the_settings_kept() {
    let w = workshop().await;
    let case = w.open(&[("f.rough-on-curves", "present")]).await;
    let id = case.rsplit('/').next().unwrap();
    let form = w.get(&format!("/trials/new?case={id}")).await;
    assert!(form.attribute("input[name=case]", "value") == id);
    let series = begun(&w, &[("case", id)]).await;
    assert!(w.get(&series).await.text.contains("List the differences"));
    let kept = listed(&w, &series, LIST).await;
    assert_eq!(kept.status, StatusCode::SEE_OTHER, "{}", kept.text);
    let speed = |old: &[String]| match old.iter().any(|o| o == "outer wall speed") {
        true => "5",
        false => "1",
    };
    let mut labels = Vec::new();
    while labels.len() < 12 {
        let page = w.get(&series).await;
        if page
            .all(".next-card .main")
            .iter()
            .any(|b| b.contains("Keep the settings"))
        {
            break;
        }
        labels.push(printed(&w, &series, &speed).await);
    }
    let page = w.get(&series).await;
    assert!(
        page.one(".next-card h2").contains("It is outer wall speed"),
        "{}",
        page.text
    );
    assert!(
        labels.len() < 12
            && labels
                .iter()
                .all(|l| l.ends_with("-A") || l.ends_with("-B"))
    );

    heard(&w, &case).await;
    ended(&w, &series).await;
    proposed(&w, &series, &case).await;
    w.db.remove().await;
}

/// The fix is proposed to the case, which says so too; only a print of its own model proves it.
async fn proposed(w: &Workshop, series: &str, case: &str) {
    let told = w.get(case).await;
    assert!(told.text.contains("its fix is to be done here"));
    let fix = w.get(series).await.attribute(".series-end .row a", "href");
    assert!(fix.starts_with(&format!("{case}/fix/")), "{fix}");
    assert_eq!(w.get(&fix).await.status, StatusCode::OK);
}

/// What a form sends several times under one name arrives whole: pieces with several units old, the
/// suspects that a difference speaks of.
#[tokio::test]
async fn several_of_one_name_arrive_whole() {
    let w = workshop().await;
    let series = begun(&w, &[]).await;
    listed(&w, &series, "corner smoothing: off -> on\nfan: 1 -> 2").await;
    let choose = w
        .get(&format!("{series}/choose?old=fan&old=corner+smoothing"))
        .await;
    assert_eq!(choose.values(".next-piece input[name=label]"), ["T0-A"]);
    let form = w.get(&format!("{series}/differences")).await;
    assert!(
        form.values("input[name^='c.0.']").len() >= 2,
        "{}",
        form.text
    );
    let seq = form.seq();
    let fields = [
        ("seq", seq.as_str()),
        ("name.0", "corner smoothing"),
        ("kept.0", "1"),
        ("c.0.features-conflict", "1"),
        ("causes.0", "resonant-moves"),
    ];
    w.post(&format!("{series}/differences"), &fields).await;
    let form = w.get(&format!("{series}/differences")).await;
    let kept = |id: &str| form.all(&format!("input[name='c.0.{id}']")).len();
    assert_eq!(
        ["features-conflict", "resonant-moves", "corner-handling"].map(kept),
        [1, 1, 0]
    );
    w.db.remove().await;
}

/// What was pasted comes back as rows and not as text again; a minute that is no number and a line
/// that is not understood stay as they were typed.
#[tokio::test]
async fn a_refused_list_is_mended_in_place() {
    let w = workshop().await;
    let series = begun(&w, &[]).await;
    let twice = listed(&w, &series, "fan: 1 -> 2\nfan: 3 -> 4").await;
    assert_eq!(twice.one("textarea"), "");
    assert_eq!(twice.attribute("textarea", "name"), "pasted.2");
    let address = format!("{series}/differences");
    let seq = twice.seq();
    let rows = [
        ("seq", seq.as_str()),
        ("name.0", "fan"),
        ("name.1", "flow"),
        ("pasted.2", ""),
    ];
    let more = |more: &[(&'static str, &'static str)]| [&rows[..], more].concat();
    let odd = w.post(&address, &more(&[("swap.0", "a while")])).await;
    assert!(
        odd.text.contains("minutes to change it over"),
        "{}",
        odd.text
    );
    assert_eq!(odd.attribute("[name='swap.0']", "value"), "a while");
    let odd = w.post(&address, &more(&[("once", "firmware 15")])).await;
    assert!(
        odd.text.contains("“firmware 15” is not understood"),
        "{}",
        odd.text
    );
    assert!(odd.one("#once").contains("firmware 15"));
    let kept = w.post(&address, &more(&[("once", "firmware: 15")])).await;
    assert_eq!(kept.status, StatusCode::SEE_OTHER, "{}", kept.text);
    w.db.remove().await;
}

/// A list without a look says nothing: its case hears nothing, and no check falls silent. A locked
/// machine gets no piece.
#[tokio::test]
async fn nothing_is_said_before_a_look_and_nothing_printed_under_a_stop() {
    let w = workshop().await;
    let case = w.open(&[]).await;
    let id = case.rsplit('/').next().unwrap();
    let series = begun(&w, &[("case", id)]).await;
    listed(&w, &series, LIST).await;
    let told = async || {
        w.get(&case)
            .await
            .text
            .matches("Trial series “Rough curves”")
            .count()
    };
    assert_eq!(told().await, 0);
    let label = printed(&w, &series, &|_| "unclear").await;
    assert_eq!(told().await, 0, "what could not be told says nothing");
    let piece = format!("{series}/pieces/{label}");
    let seq = w.get(&piece).await.seq();
    w.post(&piece, &[("seq", seq.as_str()), ("grade", "5")])
        .await;
    assert!(told().await > 0);
    w.open(&[("f.burnt-smell", "present")]).await;
    let held = w.get(&series).await;
    assert!(
        held.one(".stop-box").contains("Nothing is printed on it"),
        "{}",
        held.text
    );
    let fields = [("seq", "9"), ("label", "T1-A")];
    let refused = w.post(&format!("{series}/pieces"), &fields).await;
    assert!(
        refused.text.contains("The machine is locked"),
        "{}",
        refused.text
    );
    w.db.remove().await;
}

/// A change of the list that pieces hang on is refused, and what was typed stays.
async fn list_in_use(w: &Workshop, series: &str) {
    let gone = w.get(&format!("{series}/differences")).await.seq();
    let fields = [
        ("seq", gone.as_str()),
        ("name.0", "belt"),
        ("old.0", "tight"),
    ];
    let gone = w.post(&format!("{series}/differences"), &fields).await;
    assert!(
        gone.text.contains("Piece T2-A was made with"),
        "{}",
        gone.text
    );
    assert!(gone.text.contains("value=\"tight\""));
}

#[tokio::test]
async fn what_makes_no_sense_is_said_and_nothing_typed_is_lost() {
    let w = workshop().await;
    let nowhere = w
        .post(
            "/trials",
            &[("name", "Rough curves"), ("settings", "of last spring")],
        )
        .await;
    assert_eq!(nowhere.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(nowhere.text.contains("On which machine?") && nowhere.text.contains("of last spring"));
    let series = begun(&w, &[]).await;
    let twice = listed(&w, &series, "fan: 1 -> 2\nfan: 3 -> 4").await;
    assert_eq!(twice.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(
        twice.text.contains("Two differences are called") && twice.text.contains("value=\"3\"")
    );
    let same = listed(&w, &series, "fan: 60 % -> 60 %").await;
    assert!(
        same.text.contains("on both sides: that is no difference"),
        "{}",
        same.text
    );
    let many: Vec<String> = (0..500).map(|k| format!("setting {k}: a -> b")).collect();
    let many = listed(&w, &series, &many.join("\n")).await;
    assert!(many.text.contains("500 differences") && many.text.contains("at most 60"));
    assert_eq!(
        listed(&w, &series, LIST).await.status,
        StatusCode::SEE_OTHER
    );
    let missing = w.get(&format!("{series}/pieces/T9-A")).await;
    assert_eq!(missing.status, StatusCode::NOT_FOUND);
    // Two who want the same label: the second is told which one is free.
    let seq = w.get(&series).await.seq();
    let make = [("seq", seq.as_str()), ("label", "T2-A"), ("old", "fan")];
    assert_eq!(
        w.post(&format!("{series}/pieces"), &make).await.status,
        StatusCode::SEE_OTHER
    );
    let seq = w.get(&series).await.seq();
    let again = [("seq", seq.as_str()), ("label", "T2-A"), ("old", "flow")];
    let again = w.post(&format!("{series}/pieces"), &again).await;
    assert!(
        again.text.contains("never used twice") && again.text.contains("T3-A"),
        "{}",
        again.text
    );
    list_in_use(&w, &series).await;
    w.db.remove().await;
}

#[tokio::test]
async fn two_looks_are_kept_labels_print_and_a_piece_can_be_taken_back() {
    let w = workshop().await;
    let series = begun(&w, &[("blind", "1")]).await;
    listed(&w, &series, LIST).await;
    let label = printed(&w, &series, &|_| "5").await;
    let piece = format!("{series}/pieces/{label}");
    for grade in ["4", "worse"] {
        let seq = w.get(&piece).await.seq();
        w.post(&piece, &[("seq", seq.as_str()), ("grade", grade)])
            .await;
    }
    let page = w.get(&piece).await;
    assert_eq!(page.all(".looks li").len(), 3, "{}", page.text);
    assert!(page.one(".looks li:first-child").contains("blind"));
    let tag = w.get(&format!("{piece}/label")).await;
    assert!(tag.one(".trial-code").contains(&label) && tag.text.contains("<svg"));
    assert!(
        !tag.text.contains("Put back"),
        "blind: no settings on the label"
    );
    let tray = w.get(&format!("{series}/tray")).await;
    assert!(tray.one(".tray").contains(&label));
    let nothing = w.post(&piece, &[("seq", "1"), ("grade", "six")]).await;
    assert!(nothing.text.contains("Choose a grade"));
    w.db.remove().await;
}

//! The shift on its pages: what is next, taking, handing over, the end; for one person and for
//! several.

use crate::kit::{Workshop, workshop};
use crate::people::{Browser, member};
use axum::http::StatusCode;
use suspect_core::people::Role;
use suspect_core::shift::Shift;

async fn shift(w: &Workshop) -> Shift {
    let all = w.db.store.latest_things::<Shift>(1).await.unwrap();
    all.into_iter().next().unwrap().is
}

/// Pages of the shift: one that goes on, and one that was handed over.
pub async fn every_page(w: &Workshop) -> Vec<String> {
    let begin = [("minutes", "120"), ("hands", "2")];
    w.post("/shift", &begin).await;
    let ended = w.post("/shift/end", &[("word", "mind the bed")]).await;
    w.post("/shift", &begin).await;
    let round = [("say", "later"), ("job", "round"), ("word", "tomorrow")];
    w.post("/shift/say", &round).await;
    let pages = ["/shift", "/shift/end", "/shift/pages"].map(str::to_string);
    pages.into_iter().chain(ended.to).collect()
}

/// A text whose lines are not broken.
fn plain(text: &str) -> String {
    text.split_whitespace().collect::<Vec<_>>().join(" ")
}

#[tokio::test]
async fn one_person_sees_what_is_next_and_hands_the_evening_over() {
    let w = workshop().await;
    let id = w.open(&[("f.layer-step", "present")]).await;
    let page = w.get("/shift").await;
    assert_eq!(page.status, StatusCode::OK);
    assert!(page.text.contains("For you") && plain(&page.text).contains("Begin the shift"));
    assert!(page.text.contains(r#"class="timetable""#) && page.text.contains("Teal"));
    let begun = w.post("/shift", &[("minutes", "90"), ("hands", "2")]).await;
    assert_eq!(begun.to.as_deref(), Some("/shift"));
    assert_eq!(shift(&w).await.people.len(), 2);
    let job = format!("case/{}", id.rsplit('/').next().unwrap());
    let taken = w
        .post("/shift/say", &[("say", "take"), ("job", &job)])
        .await;
    assert_eq!(taken.status, StatusCode::SEE_OTHER, "{}", taken.text);
    assert!(w.get("/shift").await.text.contains("Taken by You"));
    let word = [("say", "over"), ("job", &job), ("word", "belt is off")];
    w.post("/shift/say", &word).await;
    let page = w.get("/shift").await;
    assert!(page.text.contains("belt is off") && !page.text.contains("Taken by"));
    w.record(&id, "note", &[("text", "looked at the pulley")])
        .await;
    let end = w.get("/shift/end").await;
    assert!(end.text.contains("looked at the pulley") && end.text.contains("belt is off"));
    let ended = w.post("/shift/end", &[("word", "mind the bed")]).await;
    let kept = w.get(&ended.to.unwrap()).await;
    assert!(kept.text.contains("mind the bed") && kept.text.contains("looked at the pulley"));
    assert!(w.get("/shift/pages").await.text.contains("mind the bed"));
    let again = w.get("/shift").await;
    assert!(plain(&again.text).contains("Begin the shift"));
    w.db.remove().await;
}

#[tokio::test]
async fn what_is_left_for_another_day_leaves_the_plan_and_comes_back() {
    let w = workshop().await;
    let id = w.open(&[("f.layer-step", "present")]).await;
    let job = format!("case/{}", id.rsplit('/').next().unwrap());
    let say = async |what: &str| {
        w.post("/shift/say", &[("say", what), ("job", &job)]).await;
        w.get("/shift").await
    };
    let later = say("later").await;
    let planned = |page: &crate::kit::Page| page.one("#now");
    assert!(later.text.contains("Tonight after all"));
    assert!(
        planned(&later).starts_with("Upkeep"),
        "only the round is left"
    );
    let again = say("again").await;
    assert!(!again.text.contains("Tonight after all"));
    assert!(!planned(&again).starts_with("Upkeep"));
    w.db.remove().await;
}

#[tokio::test]
async fn a_machine_that_is_held_comes_first_and_gets_no_other_step() {
    let w = workshop().await;
    w.open(&[("f.layer-step", "present")]).await;
    w.open(&[("f.burnt-smell", "present")]).await;
    let page = w.get("/shift").await;
    assert!(page.text.contains("shift-task stopped"), "{}", page.text);
    let stop = &w.state.knowledge.stops[w.state.knowledge.stop_at("burning").unwrap()];
    assert_eq!(page.one("#now"), stop.work.name);
    assert!(page.text.contains("Blocked"), "the other case waits for it");
    w.db.remove().await;
}

#[tokio::test]
async fn people_take_what_they_may_and_not_what_another_took() {
    let w = workshop().await;
    let id = w.open(&[("f.layer-step", "present")]).await;
    let keeper = member(&w, "Ida", Role::Keeper).await;
    let jonas = member(&w, "Jonas", Role::Volunteer).await;
    let ids: Vec<String> = {
        let members = w.db.store.members().await.unwrap();
        members
            .iter()
            .map(|m| suspect_core::people::author(&m.id.to_string()))
            .collect()
    };
    let mut fields = vec![("minutes", "120")];
    fields.extend(ids.iter().map(|id| ("people", id.as_str())));
    keeper.post("/shift", &fields).await;
    assert_eq!(shift(&w).await.people.len(), 2);
    let job = format!("case/{}", id.rsplit('/').next().unwrap());
    let take = async |who: &Browser<'_>| {
        who.post("/shift/say", &[("say", "take"), ("job", &job)])
            .await
    };
    assert_eq!(take(&jonas).await.status, StatusCode::SEE_OTHER);
    let refused = take(&keeper).await;
    assert!(
        refused.text.contains("Jonas took this already"),
        "{}",
        refused.text
    );
    let visitor = member(&w, "Tove", Role::Visitor).await;
    assert_eq!(
        visitor.get("/shift").await.status,
        StatusCode::OK,
        "reading is free"
    );
    assert_eq!(take(&visitor).await.status, StatusCode::FORBIDDEN);
    w.db.remove().await;
}

#[tokio::test]
async fn a_shift_of_nobody_or_of_a_week_is_refused_with_what_would_do() {
    let w = workshop().await;
    let keeper = member(&w, "Ida", Role::Keeper).await;
    let nobody = keeper.post("/shift", &[("minutes", "60")]).await;
    assert!(nobody.text.contains("who is there"), "{}", nobody.text);
    let endless = keeper
        .post("/shift", &[("minutes", "99999"), ("people", "x")])
        .await;
    assert_eq!(endless.status, StatusCode::UNPROCESSABLE_ENTITY);
    let tea = keeper.post("/shift", &[("minutes", "tea")]).await;
    assert_eq!(tea.status, StatusCode::UNPROCESSABLE_ENTITY);
    for path in [
        "/shift/pages/x",
        "/shift/pages/01a22260-bff1-729f-988b-e048894359d1",
    ] {
        assert_eq!(keeper.get(path).await.status, StatusCode::NOT_FOUND);
    }
    w.db.remove().await;
}

#[tokio::test]
async fn a_case_puts_first_what_whoever_looks_may_do_and_names_who_may_the_rest() {
    let w = workshop().await;
    let id = w.open(&[("f.layer-step", "present")]).await;
    member(&w, "Ida", Role::Keeper).await;
    let jonas = member(&w, "Jonas", Role::Volunteer).await;
    let k = &w.state.knowledge;
    // An involved fix and a trade are a technician's, whatever leads.
    let fix = k
        .fixes
        .iter()
        .find(|f| f.id == "raise-axis-current")
        .unwrap();
    let page = jonas.get(&format!("/handbook/fixes/{}", fix.id)).await;
    assert!(
        page.text
            .contains("technician who is competent for motor currents")
    );
    let sent = jonas
        .post(&format!("{id}/fix/{}", fix.id), &[("minutes", "5")])
        .await;
    assert_eq!(sent.status, StatusCode::FORBIDDEN);
    assert!(sent.text.contains("Ida"), "it says who may: {}", sent.text);
    w.db.remove().await;
}

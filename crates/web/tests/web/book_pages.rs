//! Pages beside the machine's book: before a print, labels, leaves of the journal, repair or
//! retire, what the workshop wrote.

use crate::book::{done, heron, written};
use crate::kit::workshop;
use axum::http::StatusCode;
use suspect_core::machine::MachineEvent;

#[tokio::test]
async fn ticks_before_a_print_are_kept_and_the_machines_own_prints_count() {
    let w = workshop().await;
    let heron = heron(&w).await;
    let before = format!("/machines/{heron}/before");
    let page = w.get(&before).await;
    let looks = page.values(".looks input[name=seen]");
    assert!(!looks.is_empty(), "{}", page.text);
    let kept = w.post(&before, &[("seen", looks[0].as_str())]).await;
    assert_eq!(kept.status, StatusCode::SEE_OTHER, "{}", kept.text);
    let page = w.get(&before).await;
    assert!(page.text.contains("Ticked today by"), "{}", page.text);
    let not = w.post(&before, &[("wrong", looks[0].as_str())]).await;
    assert!(not.to.unwrap().starts_with("/cases/new"));
    for prints in ["10", "400"] {
        let hours = format!("{prints}0");
        done(
            &w,
            heron,
            &[("say", "counter"), ("hours", &hours), ("prints", prints)],
        )
        .await;
    }
    let calm = w.get(&before).await;
    assert!(
        calm.text.contains("390 prints and 0 cases"),
        "{}",
        calm.text
    );
    w.db.remove().await;
}

#[tokio::test]
async fn a_machine_for_parts_says_so_on_its_label_and_comes_back() {
    let w = workshop().await;
    let heron = heron(&w).await;
    let service = format!("/machines/{heron}/service");
    let parts = [("to", "parts"), ("reason", "Board burnt"), ("seq", "1")];
    assert_eq!(w.post(&service, &parts).await.status, StatusCode::SEE_OTHER);
    let page = w.get(&format!("/machines/{heron}")).await;
    assert!(
        page.text.contains("For parts, not working."),
        "{}",
        page.text
    );
    let label = w.get(&format!("/machines/{heron}/label")).await;
    assert!(
        label.text.contains("FOR PARTS, NOT WORKING. Board burnt"),
        "{}",
        label.text
    );
    assert!(
        !w.get("/round").await.text.contains("Heron"),
        "nobody goes round it"
    );
    let back = [("to", "in"), ("seq", "2")];
    assert_eq!(w.post(&service, &back).await.status, StatusCode::SEE_OTHER);
    let page = w.get(&format!("/machines/{heron}")).await;
    assert!(!page.text.contains("For parts, not working."));
    w.db.remove().await;
}

#[tokio::test]
async fn the_journal_is_read_by_its_parts_and_turned_like_leaves() {
    let w = workshop().await;
    let heron = heron(&w).await;
    for n in 0..35 {
        done(
            &w,
            heron,
            &[("say", "noted"), ("text", &format!("Note number {n}"))],
        )
        .await;
    }
    done(&w, heron, &[("say", "counter"), ("hours", "40")]).await;
    let page = w.get(&format!("/machines/{heron}")).await;
    assert!(page.text.contains("Note number 34") && !page.text.contains("Note number 2<"));
    let older = w.get(&format!("/machines/{heron}?journal=1")).await;
    assert!(older.text.contains("Note number 2<"), "{}", older.text);
    let parts = w.get(&format!("/machines/{heron}?of=parts")).await;
    assert!(parts.text.contains("Counter read: 40 h") && !parts.text.contains("Note number"));
    w.db.remove().await;
}

#[tokio::test]
async fn the_sum_of_repair_and_replacement_tips_and_odd_numbers_are_said() {
    let w = workshop().await;
    let heron = heron(&w).await;
    let at = format!("/machines/{heron}/retire");
    let sum = w
        .get(&format!(
            "{at}?parts=45&hours=4&risk=20&learning=1&price=190&reuse=40"
        ))
        .await;
    assert!(sum.text.contains("The repair costs less"), "{}", sum.text);
    let dear = w.get(&format!("{at}?parts=900&hours=4&price=190")).await;
    assert!(
        dear.text.contains("The parts alone cost more"),
        "{}",
        dear.text
    );
    let odd = w.get(&format!("{at}?parts=lots&risk=300")).await;
    assert_eq!(odd.attribute("#parts", "value"), "lots");
    assert!(
        odd.text.contains("makes no sense: 0 to 100"),
        "{}",
        odd.text
    );
    let unknown = w.get(&format!("/machines/{}/retire", w.machine)).await;
    assert!(
        unknown
            .text
            .contains("Say what a machine in its place costs")
    );
    w.db.remove().await;
}

#[tokio::test]
async fn what_the_workshop_wrote_is_found_even_when_it_is_misspelt() {
    let w = workshop().await;
    let heron = heron(&w).await;
    let note = [
        ("say", "noted"),
        (
            "text",
            "Cantilever bracket reinforced with an aluminium plate",
        ),
    ];
    done(&w, heron, &note).await;
    let found = w.get("/handbook?q=aluminium").await;
    assert!(
        found.text.contains("Cantilever bracket reinforced"),
        "{}",
        found.text
    );
    let misspelt = w.get("/handbook?q=aluminum").await;
    assert!(
        misspelt.text.contains("Cantilever bracket reinforced"),
        "{}",
        misspelt.text
    );
    assert!(misspelt.text.contains("Nobody wrote"), "it says so");
    let nothing = w.get("/handbook?q=zzzzqqq").await;
    assert!(!nothing.text.contains("What this workshop wrote"));
    w.db.remove().await;
}

#[tokio::test]
async fn a_kind_tells_its_quirks_and_its_machines() {
    let w = workshop().await;
    heron(&w).await;
    let kind = w.get("/kinds/skiff-240").await;
    assert!(kind.text.contains("Soft springs under the bed") && kind.text.contains("Heron"));
    assert!(w.get("/kinds").await.text.contains("Barge 340"));
    assert_eq!(w.get("/kinds/none").await.status, StatusCode::NOT_FOUND);
    w.db.remove().await;
}

#[tokio::test]
async fn a_kind_of_the_workshops_own_raises_suspects_of_its_machines_until_set_aside() {
    let w = workshop().await;
    let case = crate::book::case_on(&w, w.machine, "strings").await;
    let seq = w.get(&case).await.seq();
    let sign = [
        ("seq", seq.as_str()),
        ("finding", "strings"),
        ("state", "hairs"),
    ];
    w.post(&format!("{case}/observe"), &sign).await;
    let kind = w
        .post("/kinds", &[("name", "Skerry 300"), ("seq", "0")])
        .await
        .to
        .unwrap();
    let page = w.get(&kind).await;
    assert!(
        page.text.contains("Teal"),
        "the machine bears its name: {}",
        page.text
    );
    let quirk = [
        ("seq", "1"),
        ("name", "Spool room is damp"),
        ("when", "soon"),
        ("raises", "filament-wet"),
        ("factor", "3"),
    ];
    let told = w.post(&kind, &quirk).await;
    assert_eq!(told.status, StatusCode::SEE_OTHER, "{}", told.text);
    let ledger = format!("{case}?suspect=filament-wet");
    let said = "spool room is damp, not mended: ×3";
    assert!(
        w.get(&ledger).await.text.contains(said),
        "{}",
        w.get(&ledger).await.text
    );
    let beyond = [
        ("seq", "2"),
        ("name", "Worse"),
        ("raises", "filament-wet"),
        ("factor", "9"),
    ];
    let refused = w.post(&kind, &beyond).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    w.post(&kind, &[("seq", "2"), ("say", "removed")]).await;
    assert!(!w.get(&ledger).await.text.contains(said));
    assert!(
        w.get(&kind).await.text.contains("Set aside."),
        "its page is still there"
    );
    w.post(&kind, &[("seq", "3"), ("say", "back")]).await;
    let found = w.get("/handbook?q=skerry").await;
    assert_eq!(found.status, StatusCode::OK);
    assert!(found.text.contains("kind of machine"), "{}", found.text);
    assert!(w.get(&ledger).await.text.contains(said));
    w.db.remove().await;
}

#[tokio::test]
async fn what_was_done_last_week_is_told_with_its_day_and_no_day_lies_ahead() {
    let w = workshop().await;
    let heron = heron(&w).await;
    let days = |n: i64| (time::OffsetDateTime::now_utc() + time::Duration::days(n)).date();
    done(&w, heron, &[("say", "counter"), ("hours", "400")]).await;
    let on = days(-7).to_string();
    done(
        &w,
        heron,
        &[("say", "fitted"), ("part", "nozzle"), ("on", &on)],
    )
    .await;
    let book = w.db.store.book(heron).await.unwrap();
    assert_eq!(book.fitted["nozzle"][0].at.date(), days(-7));

    let ahead = days(3).to_string();
    let note = [("say", "noted"), ("text", "Sold"), ("on", ahead.as_str())];
    let page = written(&w, heron, &note).await;
    assert!(page.text.contains("has not come yet"), "{}", page.status);
    let odd = [("say", "noted"), ("text", "Sold"), ("on", "soon")];
    assert!(written(&w, heron, &odd).await.text.contains("is no day"));
    let today = days(0).to_string();
    let note = [("say", "noted"), ("text", "Washed"), ("on", today.as_str())];
    done(&w, heron, &note).await;
    let log = w.db.store.machine_log(heron).await.unwrap();
    assert!(matches!(
        log.last().unwrap().event,
        MachineEvent::Noted { .. }
    ));
}

#[tokio::test]
async fn a_kind_of_the_workshops_own_is_described_like_those_of_the_handbook() {
    let w = workshop().await;
    let kind = w
        .post("/kinds", &[("name", "Skerry 300"), ("seq", "0")])
        .await
        .to
        .unwrap();
    let form = w.get(&format!("{kind}/describe")).await;
    let seq = form.seq();
    let told = [
        ("seq", seq.as_str()),
        ("say", "described"),
        ("name", "Skerry 300"),
        ("text", "A closed box on three screws"),
        ("melt_limit_mm3_s", "14"),
        ("facts", "Frame screws: M5 in slots\nBelts: 6 mm wide"),
        ("feed", "direct"),
        ("life-nozzle", "300"),
        ("every-wheels-hours", "70"),
    ];
    let odd: Vec<_> = told
        .into_iter()
        .map(|(name, value)| match name {
            "facts" => (name, "Frame screws M5"),
            "life-nozzle" => (name, "long"),
            _ => (name, value),
        })
        .collect();
    let again = w.post(&kind, &odd).await;
    assert_eq!(again.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(again.text.contains("has no colon"), "{}", again.status);
    assert!(again.text.contains("A closed box on three screws"), "kept");

    let kept = w.post(&kind, &told).await;
    assert_eq!(kept.status, StatusCode::SEE_OTHER, "{}", kept.text);
    let page = w.get(&kind).await;
    for said in ["M5 in slots", "14 mm³/s", "300 h", "every 70\u{a0}h"] {
        assert!(page.text.contains(said), "{said}: {}", page.text);
    }
    let books = w.db.store.books(&w.state.knowledge).await.unwrap();
    let states = books.states(w.machine, time::OffsetDateTime::now_utc());
    let nozzle = states.iter().find(|s| s.hours.part.id == "nozzle").unwrap();
    assert_eq!(nozzle.usual, Some(300.0));
    let other = w.post(&kind, &told).await;
    assert!(other.text.contains("Somebody else wrote"), "{}", other.text);
    w.db.remove().await;
}

#[tokio::test]
async fn what_was_written_is_narrowed_by_machine_fix_cause_and_day() {
    let w = workshop().await;
    let heron = heron(&w).await;
    let note = [("say", "noted"), ("text", "The heron squeaks at the idler")];
    done(&w, heron, &note).await;
    let told = crate::book::case_on(&w, w.machine, "it squeaks at the idler").await;
    let find = async |more: &str| {
        let page = w.get(&format!("/handbook?q=squeaks+idler{more}")).await;
        let journal = page.text.contains("journal of Heron");
        (journal, page.text.contains(&format!("href=\"{told}\"")))
    };
    assert_eq!(find("").await, (true, true));
    assert_eq!(find(&format!("&machine={heron}")).await, (true, false));
    let teal = w.machine;
    assert_eq!(find(&format!("&machine={teal}")).await, (false, true));
    assert_eq!(find("&from=2999-01-01").await, (false, false));
    assert_eq!(find("&to=2999-01-01").await, (true, true));
    assert_eq!(find("&fix=new-nozzle").await, (false, false));
    assert_eq!(find("&cause=nozzle-worn&machine=odd").await, (false, false));
    w.db.remove().await;
}

//! Spools and spare parts by forms: what is left, what is used up by cases, what to order.

use crate::book::case_on;
use crate::kit::{Workshop, workshop};
use crate::print_files::{added, lighthouse};
use axum::http::StatusCode;
use suspect_core::shelf::{Spool, Stock};
use suspect_store::Uuid;

/// A spool on the shelf; its address.
pub async fn spool(w: &Workshop) -> String {
    let fields = [
        ("family", "petg"),
        ("colour", "green"),
        ("maker", "Millrace"),
        ("net_g", "1000"),
        ("tare_g", "200"),
        ("seq", "0"),
    ];
    let page = w.post("/spools", &fields).await;
    assert_eq!(page.status, StatusCode::SEE_OTHER, "{}", page.text);
    page.to.unwrap()
}

async fn case_with(w: &Workshop, machine: Uuid, spool: &str) -> String {
    let case = case_on(w, machine, "strings between posts").await;
    let seq = w.get(&case).await.seq();
    let fields = [
        ("seq", seq.as_str()),
        ("title", "Strings"),
        ("material", "petg"),
        ("spool", spool),
    ];
    let told = w.post(&format!("{case}/numbers"), &fields).await;
    assert_eq!(told.status, StatusCode::SEE_OTHER, "{}", told.text);
    case
}

async fn left(w: &Workshop) -> f64 {
    w.db.store.things::<Spool>().await.unwrap()[0].is.left_g
}

#[tokio::test]
async fn a_spool_lives_from_the_shelf_to_used_up_and_nothing_typed_is_lost() {
    let w = workshop().await;
    let odd = [
        ("family", "petg"),
        ("colour", ""),
        ("net_g", "much"),
        ("maker", "Millrace"),
    ];
    let again = w.post("/spools", &odd).await;
    assert_eq!(again.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(again.attribute("#maker", "value"), "Millrace");
    assert_eq!(again.attribute("#net_g", "value"), "much");
    let at = spool(&w).await;
    let said = async |fields: &[(&str, &str)]| w.post(&at, fields).await;
    let machine = w.machine.to_string();
    for fields in [
        vec![("say", "put"), ("machine", machine.as_str())],
        vec![("say", "dried"), ("celsius", "65"), ("hours", "6")],
        vec![("say", "weighed"), ("gross_g", "650")],
        vec![("say", "used"), ("grams", "390"), ("of", "Pump guard")],
    ] {
        let page = said(&fields).await;
        assert_eq!(page.status, StatusCode::SEE_OTHER, "{}", page.text);
    }
    let page = w.get(&at).await;
    assert!(
        page.text.contains("Nearly out.") && page.text.contains("on <a"),
        "{}",
        page.text
    );
    let lighter = said(&[("say", "weighed"), ("gross_g", "120")]).await;
    assert!(lighter.text.contains("200 g"), "{}", lighter.text);
    said(&[("say", "finished")]).await;
    let used = said(&[("say", "used"), ("grams", "5")]).await;
    assert_eq!(used.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(used.text.contains("how much was found"), "{}", used.text);
    said(&[("say", "again"), ("grams", "40")]).await;
    assert_eq!(left(&w).await, 40.0);
    let label = w.get(&format!("{at}/label")).await;
    assert!(label.text.contains("<svg") && label.text.contains("S-1"));
    assert_eq!(w.get("/spools/nothing").await.status, StatusCode::NOT_FOUND);
    w.db.remove().await;
}

#[tokio::test]
async fn prints_of_a_case_take_filament_and_two_machines_point_at_the_spool() {
    let w = workshop().await;
    spool(&w).await;
    let other = Uuid::now_v7();
    let heron = crate::kit::described("Heron", "Skerry 300", &[("board_age", "protected")]);
    let at = time::OffsetDateTime::now_utc();
    w.db.store
        .add_machine(&w.state.knowledge, other, &heron, at)
        .await
        .unwrap();
    let name = "S-1 green PETG, Millrace";
    let first = case_with(&w, w.machine, name).await;
    assert!(!w.get(&first).await.text.contains("One spool"));
    let second = case_with(&w, other, name).await;
    let page = w.get(&second).await;
    assert!(page.text.contains("One spool,"), "{}", page.text);
    let follows = w
        .post(&format!("{second}/follows-spool"), &[("seq", &page.seq())])
        .await;
    assert_eq!(follows.status, StatusCode::SEE_OTHER, "{}", follows.text);
    let told = w.get(&second).await;
    assert!(
        !told.text.contains("The trouble follows the spool"),
        "it is told"
    );
    // A fix with its print: its grams come off the spool.
    let fix = format!("{first}/fix/dry-filament");
    let seq = w.get(&first).await.seq();
    let done = w
        .post(&fix, &[("seq", &seq), ("minutes", "5"), ("money", "0")])
        .await;
    assert_eq!(done.status, StatusCode::SEE_OTHER, "{}", done.text);
    let seq = w.get(&first).await.seq();
    let print = [
        ("seq", seq.as_str()),
        ("result", "better"),
        ("minutes", "40"),
        ("grams", "35"),
    ];
    let printed = w.post(&format!("{first}/verify"), &print).await;
    assert_eq!(printed.status, StatusCode::SEE_OTHER, "{}", printed.text);
    assert_eq!(left(&w).await, 965.0);
    w.db.remove().await;
}

#[tokio::test]
async fn a_part_fitted_comes_off_the_stock_and_the_list_to_order_is_a_table() {
    let w = workshop().await;
    let fields = [
        ("name", "=Brass nozzle, 0.4"),
        ("part", "nozzle"),
        ("pieces", "2"),
        ("reorder_at", "1"),
        ("money", "1.5"),
    ];
    let added = w.post("/stock", &fields).await;
    assert_eq!(added.status, StatusCode::SEE_OTHER, "{}", added.text);
    let journal = format!("/machines/{}/journal", w.machine);
    w.post(&journal, &[("say", "counter"), ("hours", "500")])
        .await;
    w.post(
        &journal,
        &[
            ("say", "fitted"),
            ("part", "nozzle"),
            ("fitted_hours", "510"),
        ],
    )
    .await;
    let stock = w.db.store.things::<Stock>().await.unwrap();
    assert_eq!(stock[0].is.pieces, 1);
    let page = w.get("/stock").await;
    assert!(page.text.contains("order 1"), "{}", page.text);
    let table = w.get("/stock.csv").await;
    assert!(
        table.text.contains("\"'=Brass nozzle, 0.4\",Nozzle"),
        "{}",
        table.text
    );
    let thing = format!("/stock/{}", stock[0].id);
    let seq = stock[0].seq.to_string();
    let counted = w
        .post(
            &thing,
            &[("say", "counted"), ("pieces", "7"), ("seq", &seq)],
        )
        .await;
    assert_eq!(counted.status, StatusCode::SEE_OTHER, "{}", counted.text);
    assert_eq!(
        w.get("/stock.csv").await.text.lines().count(),
        1,
        "enough are there"
    );
    let half = w
        .post(&thing, &[("say", "came"), ("pieces", "0.5"), ("seq", &seq)])
        .await;
    assert_eq!(half.status, StatusCode::UNPROCESSABLE_ENTITY);
    let odd = w
        .post(
            "/stock",
            &[("name", "Fan"), ("part", "sail"), ("pieces", "1")],
        )
        .await;
    assert_eq!(odd.status, StatusCode::UNPROCESSABLE_ENTITY);
    w.db.remove().await;
}

#[tokio::test]
async fn what_a_part_in_stock_is_can_be_said_anew_and_its_log_stands_beside_it() {
    let w = workshop().await;
    let nozzle = [("name", "Nozzle"), ("part", "nozzle"), ("pieces", "2")];
    w.post("/stock", &nozzle).await;
    let thing = format!(
        "/stock/{}",
        w.db.store.things::<Stock>().await.unwrap()[0].id
    );
    w.post(&thing, &[("say", "one"), ("seq", "2")]).await;
    let page = w.get(&thing).await;
    assert!(page.text.contains("Used: 1 piece"), "{}", page.text);
    let seq = page.seq();
    let said = [
        ("say", "described"),
        ("seq", seq.as_str()),
        ("name", "Nozzle, hardened"),
        ("part", "nozzle"),
        ("fits", "Skerry 300"),
        ("money", "a lot"),
    ];
    let odd = w.post(&thing, &said).await;
    assert_eq!(odd.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(
        odd.text.contains("Nozzle, hardened"),
        "what was typed is kept"
    );
    let priced: Vec<_> = said
        .into_iter()
        .map(|(name, value)| (name, if name == "money" { "9.5" } else { value }))
        .collect();
    let kept = w.post(&thing, &priced).await;
    assert_eq!(kept.status, StatusCode::SEE_OTHER, "{}", kept.text);
    let is = &w.db.store.things::<Stock>().await.unwrap()[0].is;
    assert_eq!(
        (is.pieces, is.money, is.name.as_str()),
        (1, Some(9.5), "Nozzle, hardened")
    );
    let late = w.post(&thing, &priced).await;
    assert!(
        late.text.contains("Something happened to it"),
        "{}",
        late.text
    );
    let label = w.get(&format!("{thing}/label")).await;
    assert!(label.text.contains("fits Skerry 300"), "{}", label.text);
    assert_eq!(w.get("/stock/none").await.status, StatusCode::NOT_FOUND);
    w.db.remove().await;
}

#[tokio::test]
async fn a_print_file_says_what_it_takes_off_a_spool_and_one_touch_takes_it() {
    let w = workshop().await;
    let case = case_with(&w, w.machine, "").await;
    let at = spool(&w).await;
    let bytes = lighthouse(suspect_print_files::made::Recipe::default());
    let (href, page) = added(&w, &case, "lamp.gcode", &bytes).await;
    let action = page.attribute("#spools form", "action");
    let seq = page.attribute("#spools input[name=seq]", "value");
    assert!(page.text.contains("g left, it"), "{}", page.text);
    let case_id = case.rsplit('/').next().unwrap();
    let sent = [("seq", seq.as_str()), ("case", case_id)];
    let taken = w.post(&action, &sent).await;
    assert_eq!(taken.status, StatusCode::SEE_OTHER, "{}", taken.text);
    let back = taken.to.unwrap();
    assert!(back.starts_with(href.split('?').next().unwrap()), "{back}");
    let now = left(&w).await;
    assert!((900.0..1000.0).contains(&now), "{now}");
    let log = w.get(&at).await;
    assert!(log.text.contains("lamp.gcode"), "{}", log.text);
    let gone = action.replace(at.rsplit('/').next().unwrap(), &Uuid::now_v7().to_string());
    assert_eq!(w.post(&gone, &sent).await.status, StatusCode::NOT_FOUND);
    w.db.remove().await;
}

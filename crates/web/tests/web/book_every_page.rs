//! The book and the shelf with something on every page.

use crate::book::{FOUND, done, heron};
use crate::kit::Workshop;
use suspect_core::shelf::Stock;

/// Pages of the book and of the shelf, each with something on it.
pub async fn every_page(w: &Workshop) -> Vec<String> {
    let heron = heron(w).await;
    let counter = [
        ("say", "counter"),
        ("hours", "900"),
        ("kilograms", "12"),
        ("prints", "300"),
    ];
    done(w, heron, &counter).await;
    done(
        w,
        heron,
        &[("say", "noted"), ("text", "Bought at the spring market")],
    )
    .await;
    done(w, heron, &FOUND).await;
    let here = format!("/machines/{heron}");
    w.post(&format!("{here}/commission"), &[("history", "used")])
        .await;
    let spool = crate::shelf::spool(w).await;
    let part = [
        ("name", "Nozzle"),
        ("part", "nozzle"),
        ("pieces", "1"),
        ("reorder_at", "1"),
    ];
    w.post("/stock", &part).await;
    let kind = w.post("/kinds", &[("name", "Own"), ("seq", "0")]).await;
    let kind = kind.to.unwrap();
    let stock = w.db.store.things::<Stock>().await.unwrap()[0].id;
    let of_machine = [
        "",
        "/commission",
        "/retire",
        "/label",
        "/parts/nozzle/label",
        "/before",
    ];
    let mut pages: Vec<String> = of_machine.iter().map(|at| format!("{here}{at}")).collect();
    let stock = format!("/stock/{stock}");
    for (of, below) in [(spool, "label"), (kind, "describe"), (stock, "label")] {
        pages.extend([format!("{of}/{below}"), of]);
    }
    let others = [
        "/round?soon=yes",
        "/spools?all=yes",
        "/stock",
        "/kinds",
        "/kinds/barge-340",
    ];
    pages.extend(others.map(str::to_string));
    pages
}

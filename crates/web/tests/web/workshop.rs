//! Rates and tools of the workshop, the plan they make, the look before a print.

use crate::kit::workshop;
use axum::http::StatusCode;

#[tokio::test]
async fn rates_and_tools_are_settings_and_nonsense_is_refused_beside_its_field() {
    let w = workshop().await;
    let page = w.get("/workshop").await;
    let tools = page.all(".tools .tick").len();
    assert!(tools > 20);
    let wrong = w
        .post(
            "/workshop",
            &[
                ("seq", "0"),
                ("money_per_hour", "0"),
                ("give_up", "-5"),
                ("waiting", "soon"),
                ("tool", "pen"),
            ],
        )
        .await;
    assert_eq!(wrong.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(wrong.all(".rates .error").len(), 3);
    assert!(
        wrong.text.contains("value=\"-5\"") && wrong.text.contains("value=\"soon\""),
        "what was typed is still there"
    );
    assert_eq!(wrong.all(".tools input[checked]").len(), 1);
    let kept = w
        .post(
            "/workshop",
            &[
                ("seq", "0"),
                ("money_per_hour", "30"),
                ("give_up", "120"),
                ("tool", "pen"),
            ],
        )
        .await;
    assert_eq!(kept.status, StatusCode::SEE_OTHER);
    let page = w.get("/workshop").await;
    assert_eq!(
        (page.attribute("#money_per_hour", "value"), page.seq()),
        ("30".into(), "1".into())
    );
    // From an old page: told, with what was entered still there.
    let late = w
        .post(
            "/workshop",
            &[("seq", "0"), ("money_per_hour", "44"), ("tool", "pen")],
        )
        .await;
    assert_eq!(late.status, StatusCode::CONFLICT);
    assert!(late.text.contains("value=\"44\"") && late.text.contains("Someone else"));
    // With nothing but a pen no fix that takes a hex key is advised.
    let case = w.open(&[("f.layer-step", "present")]).await;
    assert!(!w.get(&case).await.one(".next").contains("hex key"));
    w.db.remove().await;
}

#[tokio::test]
async fn the_plan_is_a_tree_that_grows_and_the_list_before_a_print_fits_the_job() {
    let w = workshop().await;
    let case = w
        .open(&[("f.layer-step", "present"), ("f.onset", "sudden")])
        .await;
    let steps = async |depth: &str| {
        w.get(&format!("{case}/plan?depth={depth}"))
            .await
            .all(".node")
            .len()
    };
    let (one, two, four) = (steps("1").await, steps("2").await, steps("4").await);
    assert!(one == 1 && two > one && four > two, "{one} {two} {four}");
    assert_eq!(steps("4").await, steps("999").await);
    let page = w.get(&format!("{case}/plan")).await;
    assert!(
        page.attribute("[data-deepen]", "href").ends_with("depth=3")
            && page.one(".outlook").contains("30 min")
    );
    let before = format!("/machines/{}/before", w.machine);
    let looks = async |query: &str| {
        w.get(&format!("{before}?{query}"))
            .await
            .all(".looks li")
            .len()
    };
    assert!(
        looks("material=pla&hours=60&grams=900").await
            > looks("material=pla&hours=0.2&grams=3").await
    );
    let odd = w.get(&format!("{before}?hours=long&grams=-3")).await;
    assert!(odd.status == StatusCode::OK && !odd.all(".error").is_empty());
    assert_eq!(
        w.get(&format!("{before}?material=cheese")).await.status,
        StatusCode::UNPROCESSABLE_ENTITY
    );
    assert_eq!(
        w.get("/machines/none/before").await.status,
        StatusCode::NOT_FOUND
    );
    w.db.remove().await;
}

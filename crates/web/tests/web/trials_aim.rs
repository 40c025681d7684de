//! What is enough for a series to find out.

use crate::kit::workshop;
use crate::trials::{LIST, begun, listed};
use axum::http::StatusCode;

#[tokio::test]
async fn both_of_a_pair_are_named_on_wish_until_the_series_ends() {
    let w = workshop().await;
    let series = begun(&w, &[]).await;
    listed(&w, &series, LIST).await;
    let aimed = async |goal: &str| {
        let seq = w.get(&series).await.seq();
        let fields = [("seq", seq.as_str()), ("goal", goal)];
        w.post(&format!("{series}/aim"), &fields).await
    };
    assert!(w.get(&series).await.text.contains("Name both"));
    assert_eq!(aimed("name").await.status, StatusCode::SEE_OTHER);
    let page = w.get(&series).await;
    assert!(
        page.text.contains("One that cures is enough"),
        "{}",
        page.text
    );
    let seq = page.seq();
    let end = [("seq", seq.as_str()), ("how", "left-off")];
    w.post(&format!("{series}/finish"), &end).await;
    let late = aimed("repair").await;
    assert_eq!(late.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(!w.get(&series).await.text.contains("Name both"));
    w.db.remove().await;
}

//! All series, the running ones first; the way to test pieces and ladders.

use crate::pages::Page;
use crate::state::AppState;
use crate::words::trial as words;
use crate::{show, urls};
use askama::Template;
use axum::extract::State;
use axum::response::Html;
use std::collections::HashMap;
use suspect_core::series::How;
use suspect_store::series::{SeriesRow, Which};

struct Line {
    href: String,
    name: String,
    machine: String,
    said: String,
}

#[derive(Template)]
#[template(path = "trials/list.html")]
struct ListPage {
    running: Vec<Line>,
    ended: Vec<Line>,
}

/// `GET /trials`
pub async fn show(State(state): State<AppState>) -> Page {
    let all = state.store.list_series(Which::All).await?;
    let machines = state.store.machines().await?;
    let names: HashMap<_, _> = machines.into_iter().map(|m| (m.id, m.name)).collect();
    let line = |row: &SeriesRow| {
        let pieces = match row.pieces {
            1 => "1 piece".to_owned(),
            n => format!("{n} pieces"),
        };
        let how = row.ended.as_deref().and_then(How::of).map(words::ended);
        let said = [
            how.unwrap_or_default(),
            &pieces,
            &show::since(row.changed_at),
        ]
        .join(" · ");
        Line {
            href: urls::series(row.id),
            name: row.name.clone(),
            machine: names.get(&row.machine).cloned().unwrap_or_default(),
            said: said.trim_start_matches(" · ").to_owned(),
        }
    };
    let (ended, running): (Vec<_>, Vec<_>) = all.iter().partition(|r| r.ended.is_some());
    let page = ListPage {
        running: running.into_iter().map(line).collect(),
        ended: ended.into_iter().map(line).collect(),
    };
    Ok(Html(page.render()?))
}

//! The tag of a case's stop.

use crate::pages::Page;
use crate::pages::open_case::{Known, OpenCase, StopAt};
use crate::pages::parts::tag::{TagOf, tag_page};
use crate::show;
use crate::state::AppState;
use axum::extract::State;
use axum::http::HeaderMap;

/// `GET /cases/{id}/stop/{stop}/tag`
pub async fn show(
    State(state): State<AppState>,
    case: OpenCase,
    Known(StopAt(at)): Known<StopAt>,
    headers: HeaderMap,
) -> Page {
    let stop = &state.knowledge.stops[at];
    let since = case.state.stops_since.get(&at);
    let tag = TagOf {
        label: show::case_label(case.row.number),
        machine: case.machine.name.clone(),
        stop,
        holds: case.state.stops.contains(&at),
        since: since.map(|(_, at)| show::moment(*at)),
        address: case.href(),
        back: case.below(&format!("stop/{}", stop.id)),
    };
    tag_page(&headers, tag)
}

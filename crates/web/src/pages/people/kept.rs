//! Everything that is kept of a member, as a file.

use super::own::member;
use crate::pages::Answer;
use crate::people::sessions::{SIGNED, Signed};
use crate::state::AppState;
use axum::extract::State;
use axum::http::header;
use axum::response::IntoResponse;
use serde_json::json;
use suspect_core::people::author;
use time::format_description::well_known::Rfc3339;

/// `GET /me/kept.json`
pub async fn file(State(state): State<AppState>) -> Answer {
    let (id, name, role) = member()?;
    let now = state.now();
    let members = state.store.members().await?;
    let own = members.iter().find(|m| m.id == id);
    let sessions = state.store.sessions_of(id, now).await?;
    let sessions: Vec<Signed> = sessions
        .into_iter()
        .filter_map(|row| serde_json::from_value(row.data.get(SIGNED)?.clone()).ok())
        .collect();
    let recorded = state.store.recorded_by(&author(&id.to_string())).await?;
    let since = own.and_then(|m| m.made_at.format(&Rfc3339).ok());
    let kept = json!({
        "format": "usual-suspect-kept/1",
        "member": {
            "number": id.to_string(),
            "name": name,
            "role": role.id(),
            "since": since,
            "passphrase": own.is_some_and(|m| m.able).then_some("a hash"),
            "pin": own.is_some_and(|m| m.pin).then_some("a hash"),
            "feeds": state.store.feed_since(id).await?.and_then(|at| at.format(&Rfc3339).ok()),
        },
        "sessions": sessions.iter().map(|s| json!({
            "browser": s.browser,
            "address": s.address,
            "began": s.began.format(&Rfc3339).ok(),
            "used": s.used.format(&Rfc3339).ok(),
        })).collect::<Vec<_>>(),
        "recorded": recorded.iter().map(|r| json!({
            "log": r.log,
            "of": r.of,
            "seq": r.seq,
            "at": r.at.format(&Rfc3339).ok(),
            "event": r.event,
        })).collect::<Vec<_>>(),
    });
    let text = serde_json::to_string_pretty(&kept).unwrap_or_default() + "\n";
    let headers = [
        (header::CONTENT_TYPE, "application/json"),
        (
            header::CONTENT_DISPOSITION,
            "attachment; filename=\"kept-of-me.json\"",
        ),
    ];
    Ok((headers, text).into_response())
}

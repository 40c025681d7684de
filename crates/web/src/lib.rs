//! The pages of Usual Suspect: routes, view models, templates and drawings. No rule of the job is decided here.
#![warn(missing_docs)]

mod assets;
mod drawing;
mod form;
mod live;
mod page_error;
mod pages;
mod protection;
mod routes;
mod show;
mod state;
mod urls;

pub use routes::router;
pub use state::AppState;

use std::future::Future;
use tokio::net::TcpListener;

/// Serves the pages on a listener until `shutdown` is done; requests under way are finished first.
///
/// # Errors
/// When the listener fails.
pub async fn serve(
    listener: TcpListener,
    state: AppState,
    shutdown: impl Future<Output = ()> + Send + 'static,
) -> std::io::Result<()> {
    let live = state.live.clone();
    let relay = tokio::spawn(live.clone().relay(state.store.clone()));
    let ended = async move {
        shutdown.await;
        // Streams never end by themselves; the server would wait for them.
        live.close();
    };
    let served = axum::serve(listener, router(state))
        .with_graceful_shutdown(ended)
        .await;
    relay.abort();
    served
}

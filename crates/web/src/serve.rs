//! Taking connections until asked to stop, and then an end in a bounded time, whatever peers do.

use crate::state::AppState;
use crate::wire::{Secure, Wire};
use crate::{Hosts, router};
use axum::Router;
use hyper::body::Incoming;
use hyper::server::conn::http1;
use hyper_util::rt::{TokioIo, TokioTimer};
use hyper_util::server::graceful::{GracefulShutdown, Watcher};
use hyper_util::service::TowerToHyperService;
use std::future::Future;
use std::io;
use std::net::IpAddr;
use std::time::Duration;
use tokio::net::{TcpListener, TcpStream};
use tokio::time::timeout;
use tower::ServiceExt;

/// How long a peer may take to say what it wants. Honest browsers take a moment.
const PATIENCE_WITH_HEADERS: Duration = Duration::from_secs(10);
/// How long requests under way may go on after the signal to stop.
const LAST_REQUESTS: Duration = Duration::from_secs(5);
/// Pause after the system refused to hand out a connection, because there are too many.
const PAUSE: Duration = Duration::from_millis(50);
/// Settings and knowledge may have changed while nobody served: rows are looked over so often.
const LOOK_OVER: Duration = Duration::from_secs(600);
/// Pause after summing up failed, as while the database is away.
const TRY_AGAIN: Duration = Duration::from_secs(5);

/// Serves the pages on a listener until `shutdown` is done; requests under way are finished first,
/// as far as they are within a few seconds.
///
/// # Errors
/// When the listener fails.
pub async fn serve(
    listener: TcpListener,
    wire: Wire,
    state: AppState,
    hosts: Hosts,
    shutdown: impl Future<Output = ()> + Send + 'static,
) -> io::Result<()> {
    let relay = tokio::spawn(state.live.clone().relay(state.store.clone()));
    let rebuild = tokio::spawn(keep_rebuilt(state.clone()));
    let live = state.live.clone();
    let pages = router(state, hosts);
    let graceful = GracefulShutdown::new();
    let mut shutdown = std::pin::pin!(shutdown);
    loop {
        tokio::select! {
            () = &mut shutdown => break,
            taken = listener.accept() => match taken {
                Ok((stream, from)) => {
                    converse(stream, from.ip(), (&wire, pages.clone()), graceful.watcher());
                }
                // A peer that left at once, or no descriptors for the moment.
                Err(e) => {
                    tracing::warn!("connection: {e}");
                    tokio::time::sleep(PAUSE).await;
                }
            },
        }
    }
    drop(listener);
    // Streams never end by themselves; the server would wait for them.
    live.close();
    if tokio::time::timeout(LAST_REQUESTS, graceful.shutdown())
        .await
        .is_err()
    {
        tracing::warn!("some requests did not end in time and were left");
    }
    rebuild.abort();
    relay.abort();
    Ok(())
}

/// Talks to one peer; on a wire with a certificate once it was shown.
fn converse(stream: TcpStream, from: IpAddr, (wire, pages): (&Wire, Router), watcher: Watcher) {
    let said = wire.clone();
    let service = pages.map_request(move |mut request: hyper::Request<Incoming>| {
        let peer = said.tell(from, request.headers_mut());
        request.extensions_mut().insert(peer);
        request.map(axum::body::Body::new)
    });
    let service = TowerToHyperService::new(service);
    let secure = wire.secure(stream);
    tokio::spawn(async move {
        let told = match secure {
            Secure::Plain(stream) => watcher.watch(talk(stream, service)).await,
            Secure::Greeting(greeting) => {
                let Ok(Ok(stream)) = timeout(PATIENCE_WITH_HEADERS, greeting).await else {
                    tracing::debug!("{from} did not take the certificate");
                    return;
                };
                watcher.watch(talk(stream, service)).await
            }
        };
        if let Err(e) = told {
            tracing::debug!("connection: {e}");
        }
    });
}

/// One conversation in HTTP/1.
fn talk<S, T>(stream: T, service: S) -> http1::Connection<TokioIo<T>, S>
where
    S: hyper::service::HttpService<Incoming, ResBody = axum::body::Body>,
    S::Error: Into<Box<dyn std::error::Error + Send + Sync>>,
    T: tokio::io::AsyncRead + tokio::io::AsyncWrite + Unpin,
{
    http1::Builder::new()
        .timer(TokioTimer::new())
        .header_read_timeout(PATIENCE_WITH_HEADERS)
        .serve_connection(TokioIo::new(stream), service)
}

/// Rows of the projection that another program or knowledge made are rebuilt beside the service.
async fn keep_rebuilt(state: AppState) {
    loop {
        match state.store.rebuild(&state.knowledge).await {
            Ok(0) => {}
            Ok(many) => tracing::info!("{many} cases summed up anew"),
            Err(e) => {
                tracing::warn!("summing up anew waits: {e}");
                tokio::time::sleep(TRY_AGAIN).await;
                continue;
            }
        }
        tokio::select! {
            () = state.rebuild_asked() => {}
            () = tokio::time::sleep(LOOK_OVER) => {}
        }
    }
}

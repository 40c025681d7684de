//! A machine's temperature as it is, ten times a second: a stream that keeps nothing.

use crate::page_error::PageError;
use crate::pages::open_case::OpenMachine;
use crate::state::AppState;
use axum::extract::State;
use axum::response::sse::{Event, KeepAlive, Sse};
use futures_util::stream::{self, Stream};
use std::convert::Infallible;
use std::time::Duration;
use suspect_core::machine::devices;
use suspect_devices::{Address, Console, DeviceError};
use tokio::sync::{Semaphore, SemaphorePermit};
use tokio::time::{Instant, sleep};

/// From one question to the next, and the longest trace.
const EVERY: Duration = Duration::from_millis(100);
const LONGEST: Duration = Duration::from_secs(20 * 60);
/// Machines watched at once by this process.
static WATCHING: Semaphore = Semaphore::const_new(8);

struct Watched {
    console: Console,
    from: Instant,
    over: bool,
    _place: SemaphorePermit<'static>,
}

/// `GET /machines/{id}/trace`: an event for each reading, "seconds;°C;set".
pub async fn stream(
    State(state): State<AppState>,
    OpenMachine(machine): OpenMachine,
) -> Result<Sse<impl Stream<Item = Result<Event, Infallible>>>, PageError> {
    let place = WATCHING.try_acquire().map_err(|_| PageError::Busy)?;
    let log = state.store.machine_log(machine.id).await?;
    let opened = async {
        let reached = devices(&log);
        let address = reached.get("console").map_or("", String::as_str);
        Console::open(&Address::read(address)?, &state.devices).await
    };
    let opened = opened.await.map(|console| Watched {
        console,
        from: Instant::now(),
        over: false,
        _place: place,
    });
    let events = stream::unfold(Some(opened), |watched| async move {
        match watched? {
            Ok(watched) if watched.over => None,
            Ok(watched) => Some(next(watched).await),
            Err(why) => Some((Ok(ended(&why)), None)),
        }
    });
    Ok(Sse::new(events).keep_alive(KeepAlive::default()))
}

type Next = (
    Result<Event, Infallible>,
    Option<Result<Watched, DeviceError>>,
);

async fn next(mut watched: Watched) -> Next {
    sleep(EVERY).await;
    let event = match watched.console.temperatures().await {
        Ok(heat) => {
            let seconds = watched.from.elapsed();
            watched.over = seconds > LONGEST;
            let heat = heat.hot_end.or(heat.bed);
            let line = heat.map(|h| {
                let set = h.set.unwrap_or_default();
                format!("{:.1};{:.2};{set}", seconds.as_secs_f64(), h.is)
            });
            Event::default()
                .event("reading")
                .data(line.unwrap_or_default())
        }
        Err(why) => {
            watched.over = true;
            ended(&why)
        }
    };
    (Ok(event), Some(Ok(watched)))
}

/// The last event of a trace: why there is no more.
fn ended(why: &DeviceError) -> Event {
    let words = crate::show::sentence(&why.to_string());
    Event::default()
        .event("ended")
        .data(words.replace(['\n', '\r'], " "))
}

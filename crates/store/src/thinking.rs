//! Ranking, planning, reading of words and hashing take the processor for milliseconds: they run
//! beside the threads that serve, and only so many at once.

use std::sync::LazyLock;
use tokio::runtime::{Handle, RuntimeFlavor};
use tokio::sync::Semaphore;

/// As many at once as there are processors: more would only wait for each other.
static PLACES: LazyLock<Semaphore> =
    LazyLock::new(|| Semaphore::new(std::thread::available_parallelism().map_or(2, usize::from)));

/// Runs work that takes the processor and waits for nothing, away from the threads that serve.
///
/// The thread it runs on is replaced meanwhile, so that other requests go on.
pub async fn think<T>(work: impl FnOnce() -> T) -> T {
    let _place = PLACES.acquire().await;
    match Handle::current().runtime_flavor() {
        // One thread is all there is: tests run so.
        RuntimeFlavor::CurrentThread => work(),
        _ => tokio::task::block_in_place(work),
    }
}

//! Files that were looked through and wait for somebody's word before they are taken in.

use std::collections::VecDeque;
use std::path::Path;
use std::sync::{Arc, Mutex, PoisonError};
use suspect_store::Uuid;
use tempfile::TempPath;

/// Files that wait at once; the oldest is let go for one more.
const MOST: usize = 4;

/// A file under the name it goes by.
type Named = (Uuid, Arc<TempPath>);

/// Files that wait. Cheap to clone; each is deleted when it is let go.
#[derive(Debug, Clone, Default)]
pub struct Waiting(Arc<Mutex<VecDeque<Named>>>);

/// A file that waits, kept while somebody reads it.
#[derive(Debug, Clone)]
pub struct Held(Arc<TempPath>);

impl Held {
    /// Where it is.
    pub fn path(&self) -> &Path {
        &self.0
    }
}

impl Waiting {
    fn with<T>(&self, of: impl FnOnce(&mut VecDeque<Named>) -> T) -> T {
        of(&mut self.0.lock().unwrap_or_else(PoisonError::into_inner))
    }

    /// Keeps a file; it goes by a name nobody guesses.
    pub fn keep(&self, file: TempPath) -> Uuid {
        let id = Uuid::new_v4();
        self.with(|all| {
            while all.len() >= MOST {
                all.pop_front();
            }
            all.push_back((id, Arc::new(file)));
        });
        id
    }

    /// The file of a name.
    pub fn find(&self, id: Uuid) -> Option<Held> {
        self.with(|all| all.iter().find(|(there, _)| *there == id).cloned())
            .map(|(_, path)| Held(path))
    }

    /// Lets a file go.
    pub fn let_go(&self, id: Uuid) {
        self.with(|all| all.retain(|(there, _)| *there != id));
    }
}

/// A path of its own for what is written before it is sent.
///
/// # Errors
/// When no file can be made.
pub fn fresh() -> std::io::Result<(std::fs::File, TempPath)> {
    let file = tempfile::Builder::new()
        .prefix("usual-suspect-")
        .tempfile()?;
    Ok(file.into_parts())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_oldest_is_let_go_and_its_file_with_it() {
        let waiting = Waiting::default();
        let (_, first) = fresh().unwrap();
        let place = first.to_path_buf();
        let id = waiting.keep(first);
        assert!(waiting.find(id).is_some() && place.exists());
        for _ in 0..MOST {
            waiting.keep(fresh().unwrap().1);
        }
        assert!(waiting.find(id).is_none() && !place.exists());
    }
}

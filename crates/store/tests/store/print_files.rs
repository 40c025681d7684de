//! Print files: kept once, whole or not at all, removed by somebody with a reason.

use std::io::{Error, Read};
use suspect_store::print_files::NewFile;
use suspect_store::testing::fresh;
use suspect_store::{StoreError, Uuid};
use time::OffsetDateTime;

const NOW: OffsetDateTime = OffsetDateTime::UNIX_EPOCH;

fn file(sha: &str, text: &[u8]) -> NewFile {
    NewFile {
        sha256: sha.repeat(8),
        bytes: text.len() as u64,
        text_bytes: text.len() as u64,
        packed: None,
        reading: "{}".into(),
        at: NOW,
    }
}

/// Two mebibytes and a bit, so that it is in pieces, each byte telling its place.
fn text() -> Vec<u8> {
    (0..2_200_000u32).map(|n| (n % 251) as u8).collect()
}

#[tokio::test]
async fn a_text_comes_back_whole_and_in_any_part() {
    let db = fresh().await;
    let text = text();
    let id = db
        .store
        .keep_print_file(file("0a1b2c3d", &text), &text[..])
        .await
        .unwrap();
    let all = db.store.print_text(id, 0, text.len() as u64).await.unwrap();
    assert!(all == text);
    for (from, to) in [
        (0, 1),
        (1_048_575, 1_048_577),
        (1_000_000, 2_100_000),
        (2_199_999, 2_200_000),
    ] {
        let part = db.store.print_text(id, from, to).await.unwrap();
        assert!(part == text[from as usize..to as usize], "{from} to {to}");
    }
    let row = db.store.print_file(id).await.unwrap();
    assert_eq!((row.text_bytes, row.removed), (2_200_000, None));
    let nobody = db.store.print_file(Uuid::now_v7()).await.unwrap_err();
    assert!(matches!(nobody, StoreError::NotFound));
}

#[tokio::test]
async fn the_same_file_twice_and_at_once_is_kept_once() {
    let db = fresh().await;
    let text = text();
    let keep = || db.store.keep_print_file(file("11112222", &text), &text[..]);
    let (a, b, c) = tokio::join!(keep(), keep(), keep());
    let ids = [a.unwrap(), b.unwrap(), c.unwrap()];
    assert!(ids.iter().all(|id| *id == ids[0]));
    let all = db
        .store
        .print_text(ids[0], 0, text.len() as u64)
        .await
        .unwrap();
    assert!(all == text);
    db.remove().await;
}

/// A text that breaks off.
struct Broken(usize);

impl Read for Broken {
    fn read(&mut self, buffer: &mut [u8]) -> std::io::Result<usize> {
        if self.0 == 0 {
            return Err(Error::other("gone"));
        }
        self.0 -= 1;
        buffer.fill(b'x');
        Ok(buffer.len())
    }
}

#[tokio::test]
async fn nothing_is_kept_of_a_text_that_breaks_off() {
    let db = fresh().await;
    let kept = db
        .store
        .keep_print_file(file("33334444", b"xx"), Broken(200))
        .await;
    assert!(kept.is_err());
    let text = text();
    let id = db
        .store
        .keep_print_file(file("33334444", &text), &text[..])
        .await
        .unwrap();
    let all = db.store.print_text(id, 0, text.len() as u64).await.unwrap();
    assert!(all == text, "the broken one left nothing in the way");
}

#[tokio::test]
async fn a_removed_text_leaves_its_figures_and_may_come_back() {
    let db = fresh().await;
    let text = text();
    let keep = || db.store.keep_print_file(file("55556666", &text), &text[..]);
    let id = keep().await.unwrap();
    db.store
        .remove_print_text(id, ("Ida", "a member's own design"), NOW)
        .await
        .unwrap();
    let row = db.store.print_file(id).await.unwrap();
    assert_eq!(row.reading, "{}");
    let (by, why, at) = row.removed.unwrap();
    assert_eq!(
        (by.as_str(), why.as_str(), at),
        ("Ida", "a member's own design", NOW)
    );
    assert!(db.store.print_text(id, 0, 10).await.unwrap().is_empty());
    assert_eq!(keep().await.unwrap(), id);
    assert_eq!(db.store.print_file(id).await.unwrap().removed, None);
    assert_eq!(db.store.print_text(id, 5, 8).await.unwrap(), &text[5..8]);
}

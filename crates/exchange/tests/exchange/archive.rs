//! A backup, restored: everything is there again, or nothing.

use crate::kit::{K, NOW, backed, log_of, table_of, workshop};
use std::io::{Cursor, Read, Write};
use suspect_core::shelf::{Spool, Stock};
use suspect_exchange::{RestoreError, restore};
use suspect_store::Store;
use suspect_store::exchange::Snapshot;
use suspect_store::lessons::figures::FigureFilter;
use suspect_store::testing::fresh;
use zip::write::SimpleFileOptions;
use zip::{ZipArchive, ZipWriter};

async fn into_empty(bytes: Vec<u8>) -> Result<(), RestoreError> {
    let db = fresh().await;
    let done = restore(&db.store, &K, Cursor::new(bytes)).await;
    let refused = done.is_err();
    assert_eq!(
        db.store.holds_nothing().await.unwrap(),
        refused,
        "whole or nothing"
    );
    db.remove().await;
    done.map(|_| ())
}

/// The same archive with one of its files changed, or left out.
fn changed(bytes: &[u8], name: &str, change: impl Fn(Vec<u8>) -> Option<Vec<u8>>) -> Vec<u8> {
    let mut from = ZipArchive::new(Cursor::new(bytes)).unwrap();
    let mut to = ZipWriter::new(Cursor::new(Vec::new()));
    for at in 0..from.len() {
        let mut file = from.by_index(at).unwrap();
        let mut content = Vec::new();
        file.read_to_end(&mut content).unwrap();
        let content = match file.name().unwrap().starts_with(name) {
            true => change(content),
            false => Some(content),
        };
        if let Some(content) = content {
            to.start_file(file.name().unwrap(), SimpleFileOptions::default())
                .unwrap();
            to.write_all(&content).unwrap();
        }
    }
    to.finish().unwrap().into_inner()
}

/// Everything that is told of a workshop, beside its log.
async fn told(store: &Store) -> (String, Vec<(String, f64)>) {
    let filter = FigureFilter::default();
    let figures = store.figures(&filter).await.unwrap().all;
    let counts = figures.into_counts();
    let counts = counts.map(|c| (format!("{} {}", c.of, c.key), c.amount as f64));
    (table_of(store).await, counts.collect())
}

#[tokio::test(flavor = "multi_thread")]
async fn what_was_backed_up_is_there_again_byte_by_byte() {
    let there = workshop().await;
    let bytes = backed(&there.store).await;
    let here = fresh().await;
    let manifest = restore(&here.store, &K, Cursor::new(bytes)).await.unwrap();
    assert_eq!(
        (manifest.cases, manifest.pictures, manifest.print_files),
        (2, 1, 1)
    );
    assert_eq!(log_of(&here.store).await, log_of(&there.store).await);
    here.store.rebuild(&K).await.unwrap();
    assert_eq!(told(&here.store).await, told(&there.store).await);
    let snapshot = |db: &Store| db.clone();
    let (a, b) = (snapshot(&here.store), snapshot(&there.store));
    let (a, b) = (a.snapshot().await.unwrap(), b.snapshot().await.unwrap());
    let ids = b.pictures(Default::default(), 10).await.unwrap();
    for id in ids {
        assert_eq!(a.picture(id).await.unwrap(), b.picture(id).await.unwrap());
    }
    for id in b.files().await.unwrap() {
        assert_eq!(a.file(id).await.unwrap(), b.file(id).await.unwrap());
        assert_eq!(a.piece(id, 0).await.unwrap(), b.piece(id, 0).await.unwrap());
    }
    assert_eq!(a.links().await.unwrap(), b.links().await.unwrap());
    same_series(&a, &b).await;
    let spools = a.things::<Spool>().await.unwrap();
    assert_eq!(spools, b.things::<Spool>().await.unwrap());
    assert_eq!((spools.len(), spools[0].log.len()), (1, 2));
    let stock = a.things::<Stock>().await.unwrap();
    assert_eq!(stock, b.things::<Stock>().await.unwrap());
    drop((a, b));
    // Work goes on where it was: the next case has the next number.
    let machines = here.store.machines().await.unwrap();
    let next = crate::kit::case(&here.store, machines[0].id, &[]).await;
    assert_eq!(here.store.case_row(next).await.unwrap().number, 3);
    here.remove().await;
    there.remove().await;
}

/// Series, their logs and the photos of their pieces.
async fn same_series(a: &Snapshot, b: &Snapshot) {
    let all = b.series().await.unwrap();
    assert_eq!(a.series().await.unwrap(), all);
    assert_eq!((all.len(), all[0].log.len()), (1, 3));
    let photos = b.photos_of(all[0].id).await.unwrap();
    assert_eq!(photos.len(), 1);
    for id in photos {
        assert_eq!(a.photo(id).await.unwrap(), b.photo(id).await.unwrap());
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn a_damaged_backup_is_refused_whole_and_says_what_is_wrong() {
    let there = workshop().await;
    let bytes = backed(&there.store).await;
    let half = bytes[..bytes.len() / 2].to_vec();
    assert!(matches!(
        into_empty(half).await,
        Err(RestoreError::Archive(_))
    ));

    let other = changed(&bytes, "pictures/", |_| Some(b"another picture".to_vec()));
    let refused = into_empty(other).await.unwrap_err();
    assert!(matches!(&refused, RestoreError::Sum(name) if name.starts_with("pictures/")));

    let missing = changed(&bytes, "print-files/", |_| None);
    assert!(matches!(
        into_empty(missing).await,
        Err(RestoreError::Missing(_))
    ));

    let newer = changed(&bytes, "manifest.json", |content| {
        let text = String::from_utf8(content).unwrap();
        Some(
            text.replace("usual-suspect-backup/1", "usual-suspect-backup/9")
                .into_bytes(),
        )
    });
    let refused = into_empty(newer).await.unwrap_err();
    assert!(
        refused.to_string().contains("usual-suspect-backup/9"),
        "{refused}"
    );

    let log = changed(&bytes, "log.jsonl", |content| {
        let text = String::from_utf8(content).unwrap();
        Some(text.replace("it squeaks", "it sings").into_bytes())
    });
    assert!(matches!(into_empty(log).await, Err(RestoreError::Sum(name)) if name == "log.jsonl"));
    there.remove().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn nothing_is_restored_over_what_is_there() {
    let there = workshop().await;
    let bytes = backed(&there.store).await;
    let before = log_of(&there.store).await;
    let refused = restore(&there.store, &K, Cursor::new(bytes)).await;
    assert!(matches!(refused, Err(RestoreError::NotEmpty)));
    assert_eq!(log_of(&there.store).await, before);
    there.remove().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn names_of_members_leave_by_choice_alone_and_secrets_never() {
    use suspect_core::people::{Role, author};
    let there = workshop().await;
    let store = &there.store;
    store
        .invite("link", (Role::Keeper, None), None, NOW)
        .await
        .unwrap();
    let hash = "$argon2id$secret".to_string();
    let ida = store
        .take_invitation("link", "Ida", hash, NOW)
        .await
        .unwrap();
    store.set_pin(ida, "$argon2id$pin".into()).await.unwrap();
    let with = async |names: bool| {
        let mut out = Cursor::new(Vec::new());
        suspect_exchange::backup(store, &K, &mut out, NOW, names)
            .await
            .unwrap();
        out.into_inner()
    };
    let holds = |bytes: &[u8]| {
        let mut from = ZipArchive::new(Cursor::new(bytes)).unwrap();
        let file = from.by_name("people.jsonl");
        let text = file.map(|mut file| {
            let mut text = String::new();
            file.read_to_string(&mut text).unwrap();
            text
        });
        text.unwrap_or_default()
    };
    assert_eq!(holds(&with(false).await), "");
    let named = with(true).await;
    assert!(holds(&named).contains("Ida") && !holds(&named).contains("argon2"));
    let db = fresh().await;
    restore(&db.store, &K, Cursor::new(named)).await.unwrap();
    let members = db.store.members().await.unwrap();
    assert_eq!((members[0].id, members[0].name.as_str()), (ida, "Ida"));
    assert!(
        !members[0].able && !db.store.has_members().await.unwrap(),
        "nobody is locked out"
    );
    assert_eq!(author(&members[0].id.to_string()), author(&ida.to_string()));
    db.remove().await;
    // A log for others says "somebody", and holds numbers of members as they are.
    let from = store.snapshot().await.unwrap();
    let mut log = Vec::new();
    let names = suspect_exchange::Names::LeftOut;
    suspect_exchange::write_log(&from, &mut log, NOW, names)
        .await
        .unwrap();
    let log = String::from_utf8(log).unwrap();
    let by: Vec<&str> = log.split("\"by\":\"").skip(1).collect();
    assert!(
        by.iter()
            .all(|b| b.starts_with("somebody") || b.starts_with("@member-"))
    );
    there.remove().await;
}

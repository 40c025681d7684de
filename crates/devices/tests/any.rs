//! Whatever a device says and whatever is typed as its address, nothing panics and nothing is taken
//! for what it is not.

use proptest::prelude::*;
use std::time::Duration;
use suspect_devices::{Address, Console, DeviceError, Line, Tool, steps_of};
use tokio::io::AsyncWriteExt;

/// What a console makes of these bytes.
fn told(bytes: Vec<u8>) -> Result<(), DeviceError> {
    let runtime = tokio::runtime::Builder::new_current_thread()
        .enable_time()
        .build()
        .unwrap();
    runtime.block_on(async {
        let (ours, mut theirs) = tokio::io::duplex(4096);
        tokio::spawn(async move {
            // The reader may have seen enough before all is written.
            let _ = theirs.write_all(&bytes).await;
        });
        let line = Line::over(ours, "any").with_patience(Duration::from_millis(200));
        Console::over(line).temperatures().await.map(|_| ())
    })
}

proptest! {
    #![proptest_config(ProptestConfig {
        cases: 200,
        failure_persistence: None,
        ..ProptestConfig::default()
    })]

    #[test]
    fn any_bytes_are_an_answer_or_are_told_apart(
        bytes in prop::collection::vec(any::<u8>(), 0..3000),
    ) {
        match told(bytes) {
            Ok(()) | Err(DeviceError::HalfWay(_) | DeviceError::Flood(_)) => {}
            Err(DeviceError::Rubbish { .. }) => {}
            Err(other) => prop_assert!(false, "{other}"),
        }
    }

    #[test]
    fn an_address_reads_back_as_it_is_written(text in "\\PC{0,40}") {
        if let Ok(address) = Address::read(&text) {
            let written = address.to_string();
            prop_assert_eq!(Address::read(&written).unwrap(), address);
            prop_assert!(!written.contains(char::is_whitespace) && !written.contains(".."));
        }
    }

    #[test]
    fn steps_are_read_from_any_report(lines in prop::collection::vec("\\PC{0,30}", 0..6)) {
        prop_assert!(steps_of(&lines).values().all(|v| v.is_finite()));
    }
}

#[tokio::test]
async fn a_line_longer_than_any_has_to_be_is_cut_off() {
    let (ours, mut theirs) = tokio::io::duplex(4096);
    tokio::spawn(async move {
        // Whoever cuts the line off hears no more of it.
        while theirs.write_all(&[b'x'; 1024]).await.is_ok() {}
    });
    let mut tool = Tool::over(Line::over(ours, "long"));
    assert!(matches!(tool.ask().await, Err(DeviceError::Flood(_))));
}

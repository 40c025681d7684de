//! The real adapter against stand-ins: over TCP, over a pseudo-terminal, and against every way a
//! device may misbehave.

use std::time::Duration;
use suspect_devices::{Address, Allowed, Console, DeviceError, Line, Tool, Yes, steps_of};
use suspect_stand_ins::{Device, FAULTS, Fault, Meter, Printer, device, serve, speak};
use tokio::net::TcpListener;
use tokio_serial::SerialStream;

/// A stand-in on a free port.
async fn standing(device: Box<dyn Device>) -> Address {
    let listener = TcpListener::bind("127.0.0.1:0").await.unwrap();
    let at = listener.local_addr().unwrap();
    tokio::spawn(serve(listener, device));
    Address::read(&at.to_string()).unwrap()
}

async fn console(fault: Fault) -> Console {
    let at = standing(Box::new(Printer::new(fault, 1))).await;
    Console::open(&at, &Allowed::loopback()).await.unwrap()
}

#[tokio::test]
async fn a_machine_answers_every_question_that_may_be_asked() {
    let mut machine = console(Fault::None).await;
    let heat = machine.temperatures().await.unwrap();
    assert!((heat.hot_end.unwrap().is - 210.0).abs() < 2.0);
    assert_eq!(heat.bed.unwrap().set, Some(60.0));
    let switches = machine.end_switches().await.unwrap();
    assert_eq!(switches.iter().filter(|s| s.pressed).count(), 1);
    assert_eq!(machine.position().await.unwrap()[&'Z'], 5.0);
    let settings = machine.settings().await.unwrap();
    assert_eq!(steps_of(&settings)[&'Z'], 400.0);
    let heights = machine
        .probe_repeat(10, Yes::said(false).unwrap())
        .await
        .unwrap();
    assert_eq!(heights.len(), 10);
    assert!(heights.iter().all(|z| (z - 1.2).abs() < 0.02));
}

#[tokio::test]
async fn the_same_over_a_pseudo_terminal() {
    let (ours, theirs) = SerialStream::pair().expect("a pseudo-terminal");
    tokio::spawn(speak(theirs, Box::new(Printer::new(Fault::None, 2))));
    let mut machine = Console::over(Line::over(ours, "pty"));
    assert!(machine.temperatures().await.unwrap().hot_end.is_some());
    assert_eq!(machine.settings().await.unwrap().len(), 5);
}

#[tokio::test]
async fn whatever_a_device_does_it_is_told_and_nothing_hangs() {
    let short = Duration::from_millis(200);
    for (name, fault, _) in FAULTS.iter().filter(|(.., kinds)| kinds.len() == 3) {
        let listener = TcpListener::bind("127.0.0.1:0").await.unwrap();
        let at = Address::read(&listener.local_addr().unwrap().to_string()).unwrap();
        tokio::spawn(serve(listener, Box::new(Printer::new(*fault, 1))));
        let line = Line::open(&at, &Allowed::loopback()).await.unwrap();
        let mut machine = Console::over(line.with_patience(short));
        let said = machine.temperatures().await;
        match (*name, said) {
            ("none", Ok(_))
            | ("silent", Err(DeviceError::Silent(_)))
            | ("half-way", Err(DeviceError::HalfWay(_)))
            | ("floods", Err(DeviceError::Flood(_)))
            | ("rubbish", Err(DeviceError::Rubbish { .. })) => {}
            (name, other) => panic!("{name}: {other:?}"),
        }
    }
}

#[tokio::test]
async fn where_nobody_listens_that_is_said() {
    let listener = TcpListener::bind("127.0.0.1:0").await.unwrap();
    let at = Address::read(&listener.local_addr().unwrap().to_string()).unwrap();
    drop(listener);
    let refused = Console::open(&at, &Allowed::loopback())
        .await
        .err()
        .unwrap();
    assert!(matches!(refused, DeviceError::NoDevice(_)));
    let far = Address::read("192.0.2.1:23").unwrap();
    let refused = Console::open(&far, &Allowed::loopback())
        .await
        .err()
        .unwrap();
    assert!(refused.to_string().contains("ALLOWED_DEVICES"), "{refused}");
}

#[tokio::test]
async fn tools_are_read_with_their_units() {
    let at = standing(Box::new(Meter::new(Fault::None, 4))).await;
    let mut meter = Tool::open(&at, &Allowed::loopback()).await.unwrap();
    let watts = meter.ask().await.unwrap();
    assert_eq!(watts.unit, "W");
    assert!((watts.value - 408.0).abs() < 10.0, "{watts:?}");
    let at = standing(device("caliper", "inches", 4).unwrap()).await;
    let calipers = Tool::open(&at, &Allowed::loopback()).await.unwrap();
    let typed = calipers.typed().await.unwrap();
    assert_eq!(typed.unit, "in");
}

#[tokio::test]
async fn the_mesh_of_a_tilted_bed_shows_its_tilt_and_that_of_a_bowed_one_its_bow() {
    let heights = async |fault| {
        let mesh = console(fault).await.mesh().await.unwrap();
        assert_eq!(mesh.len(), 9);
        mesh.into_iter().map(|[_, _, z]| z).collect::<Vec<_>>()
    };
    let flat = heights(Fault::None).await;
    assert!(flat.iter().all(|z| z.abs() < 0.02), "{flat:?}");
    let tilted = heights(Fault::Tilted).await;
    assert!(tilted[2] - tilted[6] > 0.3, "{tilted:?}");
    let bowed = heights(Fault::Bowed).await;
    assert!(bowed[0] < -0.1 && bowed[2] < -0.1, "{bowed:?}");
}

#[tokio::test]
async fn a_probe_that_drifts_warm_shows_it() {
    let mut machine = console(Fault::DriftsWarm).await;
    let mut mean = async || {
        let all = machine
            .probe_repeat(20, Yes::said(false).unwrap())
            .await
            .unwrap();
        all.iter().sum::<f64>() / all.len() as f64
    };
    let cool = mean().await;
    for _ in 0..20 {
        mean().await;
    }
    assert!(mean().await - cool > 0.05);
}

#[test]
fn a_stand_in_that_is_none_is_refused_with_what_would_do() {
    let said = |kind, fault| device(kind, fault, 1).err().unwrap();
    assert!(said("kettle", "none").contains("printer"));
    assert!(said("printer", "inches").contains("hunts"));
}

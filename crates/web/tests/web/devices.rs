//! Devices of a machine: reached, asked, watched, never moved under a stop.

use crate::kit::{Workshop, workshop};
use axum::http::StatusCode;
use suspect_devices::Allowed;
use suspect_stand_ins::{device, serve};
use suspect_web::{AppState, Hosts, router};
use tokio::net::TcpListener;

/// A workshop whose machine has stand-ins.
pub async fn with_stand_ins(faults: &[(&str, &str, &str)]) -> Workshop {
    let mut w = workshop().await;
    let mut allowed = Allowed::loopback();
    let machine = w.machine;
    for (reached, kind, fault) in faults {
        let listener = TcpListener::bind("127.0.0.1:0").await.unwrap();
        let name = format!("teal-{reached}");
        allowed.stand_in(&name, listener.local_addr().unwrap());
        tokio::spawn(serve(listener, device(kind, fault, 1).unwrap()));
    }
    let state = AppState::new(w.db.store.clone(), w.state.knowledge.clone());
    w.state = state.with_devices(allowed);
    w.pages = router(w.state.clone(), Hosts::default());
    for (reached, ..) in faults {
        let address = format!("stand-in:teal-{reached}");
        let fields = [("device", *reached), ("address", &*address)];
        let kept = w
            .post(&format!("/machines/{machine}/devices"), &fields)
            .await;
        assert_eq!(kept.status, StatusCode::SEE_OTHER, "{}", kept.text);
    }
    w
}

#[tokio::test]
async fn a_machine_is_asked_and_its_log_says_where_it_is_reached() {
    let w = with_stand_ins(&[("console", "printer", "none")]).await;
    let machine = format!("/machines/{}", w.machine);
    let log = w.get(&machine).await;
    assert!(
        log.one(".machine-log")
            .contains("Console: reached at stand-in:teal-console")
    );
    for (what, told) in [
        ("temperatures", "set 210 °C"),
        ("switches", "pressed"),
        ("position", "110 mm"),
        ("settings", "M92"),
        ("mesh", "X 210, Y 210"),
    ] {
        let page = w.get(&format!("{machine}/devices?ask={what}")).await;
        assert!(page.one(".said-by").contains(told), "{what}: {}", page.text);
    }
    let nothing = w.get(&format!("{machine}/devices?ask=M104")).await;
    assert!(nothing.all(".said-by").is_empty());
    w.db.remove().await;
}

#[tokio::test]
async fn a_device_that_misbehaves_is_told_and_the_page_stands() {
    for (fault, told) in [
        ("rubbish", "which is no answer"),
        ("half-way", "half-way"),
        ("floods", "without end"),
    ] {
        let w = with_stand_ins(&[("console", "printer", fault)]).await;
        let page = w
            .get(&format!("/machines/{}/devices?ask=temperatures", w.machine))
            .await;
        assert_eq!(page.status, StatusCode::OK);
        assert!(
            page.one(".error").contains(told),
            "{fault}: {}",
            page.one(".error")
        );
        w.db.remove().await;
    }
}

#[tokio::test]
async fn only_allowed_addresses_are_reached() {
    let w = workshop().await;
    let devices = format!("/machines/{}/devices", w.machine);
    for bad in ["printer", "http://x/", "/etc/passwd", "a b:1"] {
        let fields = [("device", "console"), ("address", bad)];
        let page = w.post(&devices, &fields).await;
        assert_eq!(page.status, StatusCode::UNPROCESSABLE_ENTITY, "{bad}");
        assert!(
            page.one(".field.wrong .error").contains("no address"),
            "{bad}"
        );
        assert_eq!(page.attribute("#a-console", "value"), bad);
    }
    let fields = [("device", "console"), ("address", "192.0.2.7:23")];
    assert_eq!(
        w.post(&devices, &fields).await.status,
        StatusCode::SEE_OTHER
    );
    let page = w.get(&format!("{devices}?ask=temperatures")).await;
    assert!(
        page.one(".error").contains("ALLOWED_DEVICES"),
        "{}",
        page.one(".error")
    );
    w.db.remove().await;
}

#[tokio::test]
async fn the_probe_moves_after_a_yes_and_never_under_a_stop() {
    let w = with_stand_ins(&[("console", "printer", "drifts-warm")]).await;
    let devices = format!("/machines/{}/devices", w.machine);
    let no = w.post(&devices, &[("probe", "cool")]).await;
    assert!(no.one(".error").contains("hands are away"));
    let yes = w.post(&devices, &[("probe", "cool"), ("yes", "yes")]).await;
    let to = yes.to.expect("its heights go to the bench");
    assert!(to.starts_with("/bench/probe-repeat?cool_mm=1."), "{to}");
    assert!(w.get(&to).await.one("#result").contains("repeats"));
    // A stop: read, not moved.
    w.open(&[("f.burnt-smell", "present")]).await;
    let page = w.get(&format!("{devices}?ask=temperatures")).await;
    assert!(page.one(".said-by").contains("Hot end"));
    assert!(page.all("input[name=yes]").is_empty());
    let held = w.post(&devices, &[("probe", "cool"), ("yes", "yes")]).await;
    assert!(held.one(".error").contains("read, not moved"));
    w.db.remove().await;
}

#[tokio::test]
async fn readings_of_tools_go_into_the_field_that_asked() {
    let w = with_stand_ins(&[
        ("calipers", "caliper", "inches"),
        ("power-meter", "power-meter", "overload"),
    ])
    .await;
    let machine = w.machine.to_string();
    let page = w
        .get(&format!("/bench/wall-thickness?machine={machine}"))
        .await;
    let take = page.attribute("button[formaction]", "formaction");
    let taken = w
        .get(&format!("{take}?machine={machine}&wall_mm=0.48"))
        .await;
    let to = taken.to.expect("back to the measure");
    assert!(to.contains("wall_mm=0.48+0.01"), "{to}");
    assert!(
        w.get(&to).await.text.contains("in read as"),
        "inches are told"
    );
    let take = format!("/bench/chamber-watts/take/with_w?machine={machine}");
    let to = w.get(&take).await.to.expect("back to the measure");
    assert!(to.contains("with_w="), "{to}");
    let none = w
        .get(&format!(
            "/bench/second-thermometer/take/shown_c?machine={machine}"
        ))
        .await;
    assert!(
        none.one(".error").contains("nothing answers") || none.one(".error").contains("Nothing")
    );
    w.db.remove().await;
}

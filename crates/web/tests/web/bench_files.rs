//! The bench with files: recordings, traces, photos; and every way in which they may be bad.

use crate::kit::{Page, Workshop, workshop};
use crate::pictures::shot;
use axum::body::Body;
use axum::http::{Request, StatusCode, header};
use std::f64::consts::TAU;

/// Sends a form with files as a browser does.
async fn sent(w: &Workshop, path: &str, words: &[(&str, &str)], files: &[(&str, Vec<u8>)]) -> Page {
    let mut body = Vec::new();
    for (name, value) in words {
        let part =
            format!("--edge\r\nContent-Disposition: form-data; name=\"{name}\"\r\n\r\n{value}\r\n");
        body.extend(part.bytes());
    }
    for (name, bytes) in files {
        let head = format!(
            "--edge\r\nContent-Disposition: form-data; name=\"{name}\"; filename=\"f\"\r\n\
             Content-Type: application/octet-stream\r\n\r\n"
        );
        body.extend(head.bytes());
        body.extend_from_slice(bytes);
        body.extend(b"\r\n");
    }
    body.extend(b"--edge--\r\n");
    let request =
        Request::post(path).header(header::CONTENT_TYPE, "multipart/form-data; boundary=edge");
    w.send(request.body(Body::from(body)).unwrap()).await
}

/// A recording of so many channels.
fn wav(rate: u32, channels: u16, samples: &[i16]) -> Vec<u8> {
    let data: Vec<u8> = samples.iter().flat_map(|s| s.to_le_bytes()).collect();
    let block = 2 * channels;
    let mut out = b"RIFF".to_vec();
    out.extend((36 + data.len() as u32).to_le_bytes());
    out.extend(b"WAVEfmt ");
    out.extend(16u32.to_le_bytes());
    out.extend(1u16.to_le_bytes());
    out.extend(channels.to_le_bytes());
    out.extend(rate.to_le_bytes());
    out.extend((rate * u32::from(block)).to_le_bytes());
    out.extend(block.to_le_bytes());
    out.extend(16u16.to_le_bytes());
    out.extend(b"data");
    out.extend((data.len() as u32).to_le_bytes());
    out.extend(data);
    out
}

/// A belt plucked after a moment.
fn plucked(rate: u32, hz: f64) -> Vec<i16> {
    let at = |i: u32| {
        let t = f64::from(i) / f64::from(rate);
        let rung = (t - 0.3).max(0.0);
        let tone = |h: f64| (-rung / (0.4 / h)).exp() * (TAU * hz * h * rung).sin() / h;
        (9000.0 * [1.0, 3.0, 5.0].into_iter().map(tone).sum::<f64>()) as i16
    };
    (0..2 * rate).map(at).collect()
}

#[tokio::test]
async fn two_belts_are_heard_compared_and_go_into_their_tension() {
    let w = workshop().await;
    let machine = w.machine.to_string();
    let files = [
        ("first", wav(44_100, 1, &plucked(44_100, 98.0))),
        ("second", wav(16_000, 1, &plucked(16_000, 91.0))),
    ];
    let page = sent(&w, "/bench/tone", &[("machine", &machine)], &files).await;
    assert_eq!(page.status, StatusCode::OK, "{}", page.text);
    let heard = page.all(".belt .result");
    assert!(
        heard[0].starts_with("98.0 ±") && heard[1].starts_with("91.0 ±"),
        "{heard:?}"
    );
    assert_eq!(page.all(".belt svg").len(), 2);
    assert!(page.one("#follows .result").contains("−14 %"));
    let onward = page.attribute("#follows a.main", "href");
    assert!(
        onward.contains("tone_hz=98") && onward.contains("tone2_hz=91"),
        "{onward}"
    );
    assert!(onward.contains(&machine));
    w.db.remove().await;
}

#[tokio::test]
async fn a_recording_that_will_not_do_is_told_beside_its_field() {
    let w = workshop().await;
    let good = wav(16_000, 1, &plucked(16_000, 98.0));
    let silent = wav(16_000, 1, &vec![0; 32_000]);
    let mut float = good.clone();
    float[20] = 3;
    for (what, bytes, told) in [
        ("none", vec![], "No recording"),
        ("stereo", wav(16_000, 2, &plucked(16_000, 98.0)), "ono"),
        ("slow", wav(4000, 1, &plucked(4000, 98.0)), "8 to 96 kHz"),
        ("silent", silent, "no tone"),
        ("short", wav(16_000, 1, &[0; 1600]), "seconds"),
        ("cut", good[..1000].to_vec(), "ecord"),
        ("float", float, "ecord"),
        ("rubbish", b"hello".to_vec(), "not a WAV"),
        ("huge", vec![0; 5 * 1024 * 1024], "larger than 4 MB"),
    ] {
        let page = sent(&w, "/bench/tone", &[], &[("first", bytes)]).await;
        assert_eq!(page.status, StatusCode::UNPROCESSABLE_ENTITY, "{what}");
        let error = page.one(".field.wrong .error");
        assert!(error.contains(told), "{what}: {error}");
        assert!(!page.text.contains("wav_base64"), "{what}");
    }
    w.db.remove().await;
}

/// A trace of ten minutes that swings.
fn swinging() -> String {
    let line = |i: u32| {
        let t = f64::from(i);
        format!("{i};{:.2}\n", 210.0 + 4.0 * (TAU * t / 45.0).sin()).replace('.', ",")
    };
    let lines: String = (0..600).map(line).collect();
    format!("Zeit;Temperatur\n{lines}")
}

#[tokio::test]
async fn a_trace_is_judged_drawn_and_recorded() {
    let w = workshop().await;
    let case = w.open(&[("f.fades-out", "present")]).await;
    let id = case.trim_start_matches("/cases/").to_string();
    let words = [("table", swinging()), ("set_c", "210".into()), ("case", id)];
    let words: Vec<(&str, &str)> = words.iter().map(|(n, v)| (*n, v.as_str())).collect();
    let page = sent(&w, "/bench/temperature-trace", &words, &[]).await;
    assert_eq!(page.status, StatusCode::OK, "{}", page.text);
    assert!(page.one("#result").contains("hunts"));
    assert!(
        page.text
            .contains("600 readings over 599 s, under the head “Temperatur”")
    );
    assert_eq!(page.all("#chart svg").len(), 1);
    let action = page.attribute("form.keep", "action");
    let html = scraper::Html::parse_document(&page.text);
    let inputs = scraper::Selector::parse("form.keep input").unwrap();
    let mut fields = Vec::new();
    for input in html.select(&inputs) {
        let of = |n: &str| input.value().attr(n).unwrap_or_default().to_string();
        if fields.iter().all(|(n, _)| *n != of("name")) {
            fields.push((of("name"), of("value")));
        }
    }
    let fields: Vec<(&str, &str)> = fields
        .iter()
        .map(|(n, v)| (n.as_str(), v.as_str()))
        .collect();
    let done = w.post(&action, &fields).await;
    assert_eq!(done.to.as_deref(), Some(&*case), "{}", done.text);
    assert!(w.get(&case).await.one(".history").contains("hunts"));
    w.db.remove().await;
}

#[tokio::test]
async fn ten_minutes_at_ten_a_second_are_judged_whole() {
    let w = workshop().await;
    let line = |i: u32| format!("{:.1};{:.2}\n", f64::from(i) / 10.0, 210.0);
    let table: String = (0..6000).map(line).collect();
    let words = [("table", table.as_str()), ("set_c", "410 °F")];
    let page = sent(&w, "/bench/temperature-trace", &words, &[]).await;
    assert!(page.text.contains("6000 readings over 599.9 s"));
    assert!(
        page.one("#result").contains("steady"),
        "{}",
        page.one("#follows")
    );
    assert!(
        page.one("#chart").contains("set 210 °C"),
        "a set value in °F is drawn too"
    );
    w.db.remove().await;
}

#[tokio::test]
async fn a_table_that_will_not_do_is_told_with_its_line_and_stays() {
    let w = workshop().await;
    let hole = swinging().replace("300;", "300;hole");
    let dates = "time,temp\n2026-11-27 10:00,200\n".to_string();
    for (what, table, told) in [
        ("hole", hole.as_str(), "ine 302"),
        ("dates", &dates, "ine 2"),
        ("words", "hello\nworld", "ine 2"),
        ("empty", "", "no line of numbers"),
    ] {
        let words = [("table", table), ("set_c", "210")];
        let page = sent(&w, "/bench/temperature-trace", &words, &[]).await;
        assert_eq!(page.status, StatusCode::UNPROCESSABLE_ENTITY, "{what}");
        let error = page.one(".field.wrong .error");
        assert!(error.contains(told), "{what}: {error}");
        assert!(
            page.text.contains(table.lines().last().unwrap_or("")),
            "{what}"
        );
    }
    let big = vec![b'1'; 3 * 1024 * 1024];
    let page = sent(&w, "/bench/temperature-trace", &[], &[("file", big)]).await;
    assert!(page.one(".field.wrong .error").contains("larger than 2 MB"));
    w.db.remove().await;
}

/// A case with the photo of a banded piece, and the address to measure on it.
async fn photographed(w: &Workshop) -> String {
    let case = w
        .open(&[("f.bands-regular", "present"), ("n.layer_mm", "0.2")])
        .await;
    w.upload(&case, &[("bands.jpg", &shot(0))]).await;
    let page = w.get(&format!("{case}/intake?part=pictures")).await;
    let picture = page.attribute(".picture-cards a", "href");
    let page = w.get(&picture).await;
    let measure = page.links().into_iter().find(|l| l.ends_with("/measure"));
    measure.expect("a picture leads to measuring on it")
}

#[tokio::test]
async fn the_bands_of_a_photo_are_found_told_from_layers_and_go_on() {
    let w = workshop().await;
    let measure = photographed(&w).await;
    // A layer is 13 pixels and 0.2 mm; a band is seven layers, a little less.
    let line = "line_px=700+260+700+980&ref_px=500+1100+1150+1100&scale_mm=10";
    let page = w.get(&format!("{measure}?what=rhythm&{line}")).await;
    assert_eq!(page.status, StatusCode::OK);
    let result = page.one("#result");
    assert!(
        result.starts_with("1.4") || result.starts_with("1.39"),
        "{result}"
    );
    assert_eq!(page.all("svg.chart").len(), 2);
    assert!(page.text.contains(">layers<"), "the layers are told apart");
    let onward = page.attribute(".onward a", "href");
    assert!(
        onward.starts_with("/bench/band-spacing?span_mm=1."),
        "{onward}"
    );
    // Across the background there is no rhythm, and that is an answer.
    let line = "line_px=200+100+200+900&ref_px=500+1100+1150+1100&scale_mm=10";
    let page = w.get(&format!("{measure}?what=rhythm&{line}")).await;
    assert!(
        page.one("#result").contains("o rhythm"),
        "{}",
        page.one("#result")
    );
    w.db.remove().await;
}

#[tokio::test]
async fn places_on_a_photo_must_make_sense() {
    let w = workshop().await;
    let measure = photographed(&w).await;
    let page = w.get(&measure).await;
    assert!(
        page.one("#follows")
            .contains("Still to be read: length of the reference")
    );
    assert_eq!(page.all(".grip").len(), 4);
    for (query, told) in [
        (
            "what=rhythm&scale_mm=10&line_px=0+0+9999+0",
            "must lie on the photo",
        ),
        ("ref_mm=10&line_px=1+2+3", "takes 4 numbers"),
        ("ref_mm=10&line_px=a+b+c+d", "number"),
        ("ref_mm=10&ref_px=10+10+12+10", "reference"),
        ("what=rhythm&scale_mm=100&line_px=700+260+700+980", "closer"),
    ] {
        let page = w.get(&format!("{measure}?{query}")).await;
        assert_eq!(page.status, StatusCode::OK, "{query}");
        let errors = page.all(".error").join(" ");
        assert!(errors.contains(told), "{query}: {errors}");
    }
    let page = w
        .get(&format!(
            "{measure}?what=heights&ref_mm=10&ref_px=500+1100+1150+1100&base_px=100+1000+1500+1000\
             &mark1_px=600+500&mark2_px=900+510&reach_mm=12"
        ))
        .await;
    assert!(page.one("#result").contains("mm apart"), "{}", page.text);
    assert_eq!(page.all(".keep").len(), 2);
    w.db.remove().await;
}

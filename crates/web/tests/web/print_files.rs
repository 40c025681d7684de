//! Print files on pages: taken in, asked, taken over, compared, made into ladders, removed.

use crate::kit::{Page, Workshop, workshop};
use axum::body::Body;
use axum::http::{Request, StatusCode, header};
use suspect_print_files::made::{Recipe, Start, file};
use suspect_store::Uuid;

/// A small file of the lighthouse.
pub fn lighthouse(recipe: Recipe) -> Vec<u8> {
    file(&Recipe {
        layers: 40,
        ..recipe
    })
    .0
    .into_bytes()
}

/// Sends a file by the form of a page that takes one.
pub async fn send(w: &Workshop, to: &str, name: &str, bytes: &[u8]) -> Page {
    let form = w.get(to).await;
    let mut body = Vec::new();
    for field in ["touch", "seq"] {
        let value = form.attribute(&format!("#upload input[name={field}]"), "value");
        body.extend(
            format!("--cut\r\nContent-Disposition: form-data; name=\"{field}\"\r\n\r\n{value}\r\n")
                .into_bytes(),
        );
    }
    let head = format!(
        "--cut\r\nContent-Disposition: form-data; name=\"file\"; filename=\"{name}\"\r\n\r\n"
    );
    body.extend(head.into_bytes());
    body.extend_from_slice(bytes);
    body.extend(b"\r\n--cut--\r\n");
    sent(w, to, body).await
}

async fn sent(w: &Workshop, to: &str, body: Vec<u8>) -> Page {
    let request = Request::post(to)
        .header(header::CONTENT_TYPE, "multipart/form-data; boundary=cut")
        .body(Body::from(body))
        .unwrap();
    w.send(request).await
}

/// Adds a file to a case and opens its page.
pub async fn added(w: &Workshop, case: &str, name: &str, bytes: &[u8]) -> (String, Page) {
    let answer = send(w, &format!("{case}/files"), name, bytes).await;
    assert_eq!(answer.status, StatusCode::SEE_OTHER, "{}", answer.text);
    let href = answer.to.clone().unwrap_or_default();
    let page = w.get(&href).await;
    assert_eq!(page.status, StatusCode::OK, "{}", page.text);
    (href, page)
}

/// Touches a button that takes over, at 4.1 mm; the page as it is then.
async fn touch(w: &Workshop, href: &str, what: &str) -> Page {
    let page = w.get(href).await;
    let action = page.attribute("#take-over", "action");
    let (seq, touch) = (page.seq(), Uuid::now_v7().to_string());
    let form = [
        ("seq", seq.as_str()),
        ("take", what),
        ("touch", &touch),
        ("z", "4.1"),
    ];
    assert_eq!(w.post(&action, &form).await.status, StatusCode::SEE_OTHER);
    w.get(href).await
}

#[tokio::test]
async fn a_file_tells_its_facts_and_one_touch_takes_them_over() {
    let w = workshop().await;
    let case = w.open(&[]).await;
    let home = lighthouse(Recipe {
        start: Start::HomesOnly,
        fan_change: Some((4.0, 40.0)),
        ..Recipe::default()
    });
    let (href, page) = added(&w, &case, "C:\\prints\\<b>edge.gcode", &home).await;
    assert_eq!(page.one("h1"), "<b>edge.gcode");
    assert_eq!(page.all(".by-height").len(), 6);
    let there = w.get(&format!("{href}&z=4.1")).await;
    assert!(
        there
            .one(".jumps")
            .contains("Part fan 100 % → 40 % at 4 mm"),
        "{}",
        there.one(".jumps")
    );
    assert!(there.one(".layer-view").contains("Layer 21 of 40"));
    let page = touch(&w, &href, "fault").await;
    assert!(
        page.text.contains("fault at 4.1"),
        "and it lies across the charts"
    );
    assert_eq!(
        page.all(".by-height").len(),
        page.text.matches(r#"class="fault""#).count()
    );
    let page = touch(&w, &href, "n.nozzle_c").await;
    assert!(
        page.one("#take-over").contains("✓ known"),
        "the nozzle's temperature is known now"
    );
    let after = touch(&w, &href, "all").await;
    assert!(
        !after.text.contains("Take over what is new"),
        "nothing is left"
    );
    let history = w.get(&case).await.one(".history");
    for said in ["Print file added", "210", "Count the top layers"] {
        assert!(
            history.to_lowercase().contains(&said.to_lowercase()),
            "{said}: {history}"
        );
    }
    w.db.remove().await;
}

#[tokio::test]
async fn what_is_no_print_file_is_refused_beside_the_field_and_nothing_is_kept() {
    let w = workshop().await;
    let case = w.open(&[]).await;
    let to = format!("{case}/files");
    let good = lighthouse(Recipe::default());
    let photo = crate::pictures::shot(0);
    for (name, bytes, why) in [
        (
            "photo.gcode",
            &photo[..],
            "This is a photo (JPEG), no print file",
        ),
        ("empty.gcode", &b""[..], "The file is empty"),
        (
            "letter.gcode",
            &b"Dear all,\nthe machine stands still again.\n"[..],
            "no command of a machine",
        ),
        (
            "home.gcode",
            &b"G28\nG1 X10 F600\n"[..],
            "Nothing in this file lays plastic",
        ),
        (
            "torn.gcode.gz",
            &b"\x1f\x8b\x08\x00\x00\x00\x00\x00\x00\x03abc"[..],
            "damaged or breaks off",
        ),
    ] {
        let answer = send(&w, &to, name, bytes).await;
        assert_eq!(answer.status, StatusCode::UNPROCESSABLE_ENTITY, "{name}");
        assert!(
            answer.one(".error").contains(why),
            "{name}: {}",
            answer.one(".error")
        );
    }
    // An upload that breaks off in the middle of the file.
    let mut torn =
        b"--cut\r\nContent-Disposition: form-data; name=\"file\"; filename=\"a\"\r\n\r\n".to_vec();
    torn.extend_from_slice(&good[..good.len() / 2]);
    let answer = sent(&w, &to, torn).await;
    assert!(
        answer.one(".error").contains("broke off"),
        "{}",
        answer.text
    );
    let page = w.get(&case).await;
    assert!(!page.one(".history").contains("Print file"));
    w.db.remove().await;
}

#[tokio::test]
async fn the_same_file_sent_twice_at_once_is_one() {
    let w = workshop().await;
    let to = format!("{}/files", w.open(&[]).await);
    let good = lighthouse(Recipe::default());
    let (a, b) = tokio::join!(
        send(&w, &to, "a.gcode", &good),
        send(&w, &to, "a.gcode", &good)
    );
    assert!(
        [&a, &b].iter().all(|p| p.status == StatusCode::SEE_OTHER),
        "{} {}",
        a.text,
        b.text
    );
    assert_eq!(a.to, b.to);
    w.db.remove().await;
}

#[tokio::test]
async fn two_files_are_compared_and_the_good_one_of_the_machine_is_offered() {
    let w = workshop().await;
    let case = w.open(&[]).await;
    let machine = format!("/machines/{}", w.machine);
    let good = send(
        &w,
        &format!("{machine}/files"),
        "good.gcode",
        &lighthouse(Recipe::default()),
    )
    .await;
    assert_eq!(good.status, StatusCode::SEE_OTHER, "{}", good.text);
    assert!(
        w.get(&machine)
            .await
            .text
            .contains("Last good file: good.gcode")
    );
    let cold = Recipe {
        nozzle_c: [215.0, 190.0],
        ..Recipe::default()
    };
    let (_, page) = added(&w, &case, "bad.gcode", &lighthouse(cold)).await;
    assert!(
        page.one("#take-over")
            .contains("something differs from the last good print")
    );
    let against = page
        .links()
        .into_iter()
        .find(|l| l.contains("/against/"))
        .unwrap();
    let compared = w.get(&against).await;
    assert_eq!(compared.status, StatusCode::OK);
    let table = compared.one(".differences");
    assert!(
        table.contains("Nozzle temperature") && table.contains("190 °C"),
        "{table}"
    );
    let data = compared
        .links()
        .into_iter()
        .find(|l| l.contains("/data"))
        .unwrap();
    let (kind, bytes) = w.pages_raw(&data).await;
    let json: serde_json::Value = serde_json::from_slice(&bytes).unwrap();
    assert_eq!(
        (kind.as_str(), json["format"].as_str()),
        ("application/json", Some("usual-suspect-differences/1"))
    );
    assert!(
        json["differences"]
            .as_array()
            .unwrap()
            .iter()
            .all(|d| d["name"].is_string() && d["group"].is_string())
    );
    w.db.remove().await;
}

#[tokio::test]
async fn a_layer_is_data_and_a_drawing_until_the_file_is_removed() {
    let w = workshop().await;
    let case = w.open(&[]).await;
    let (href, page) = added(&w, &case, "a.gcode", &lighthouse(Recipe::default())).await;
    let file = href.split('?').next().unwrap().to_string();
    let (kind, bytes) = w.pages_raw(&format!("{file}/layers/7")).await;
    let json: serde_json::Value = serde_json::from_slice(&bytes).unwrap();
    let pieces = json["ways"].as_array().unwrap().len();
    assert_eq!(kind, "application/json");
    assert!(pieces > 100);
    assert_eq!(json["places"].as_array().unwrap().len(), 4 * pieces);
    let (kind, svg) = w.pages_raw(&format!("{file}/layers/7/drawing")).await;
    assert_eq!(kind, "image/svg+xml");
    assert!(String::from_utf8(svg).unwrap().contains("laid outer-loop"));
    for nowhere in ["/layers/0", "/layers/41", "/layers/x"] {
        assert_eq!(
            w.get(&format!("{file}{nowhere}")).await.status,
            StatusCode::NOT_FOUND
        );
    }
    assert!(page.text.contains("layer-drawing"), "drawn without scripts");
    let remove = format!("{file}/remove");
    let nobody = w.post(&remove, &[("by", ""), ("reason", "mine")]).await;
    assert!(nobody.text.contains("Say who you are"), "{}", nobody.text);
    let unsaid = w.post(&remove, &[("by", "Ida"), ("reason", " ")]).await;
    assert!(unsaid.text.contains("Say why"));
    let gone = w
        .post(
            &remove,
            &[("by", "Ida"), ("reason", "a member's own design")],
        )
        .await;
    assert_eq!(gone.status, StatusCode::SEE_OTHER);
    let page = w.get(&href).await;
    assert!(
        page.text.contains("removed by Ida") && page.text.contains("a member&#39;s own design")
    );
    assert_eq!(page.all(".by-height").len(), 6, "figures stay");
    assert!(page.text.contains("The file itself is gone"));
    w.db.remove().await;
}

#[tokio::test]
async fn a_ladder_is_shown_made_and_refused_outside_the_window() {
    let w = workshop().await;
    let case = w.open(&[]).await;
    let (href, _) = added(&w, &case, "a.gcode", &lighthouse(Recipe::default())).await;
    let (file, query) = href.split_once('?').unwrap();
    let ladder = |from: &str| {
        format!("{file}/ladder?{query}&quantity=nozzle_c&from={from}&step=-5&band_mm=2&base_mm=1")
    };
    let page = w.get(&ladder("220")).await;
    assert_eq!(page.all("tbody tr").len(), 3 + 1);
    let make = page
        .links()
        .into_iter()
        .find(|l| l.contains("/ladder/file"))
        .unwrap();
    let (_, bytes) = w.pages_raw(&make).await;
    let text = String::from_utf8(bytes).unwrap();
    assert!(
        text.contains("M104 S215 ; band of nozzle_c 215"),
        "the second band"
    );
    assert!(
        page.links()
            .iter()
            .any(|l| l.contains("/bench/tower-reading") && l.contains("first=220"))
    );
    let sheet = page
        .links()
        .into_iter()
        .find(|l| l.contains("/ladder/label"))
        .unwrap();
    let sheet = w.get(&sheet).await;
    assert_eq!(sheet.one(".piece-sheet h1"), "Nozzle temperature");
    assert_eq!(sheet.all(".piece-sheet tbody tr").len(), 3 + 1 + 1);
    assert!(sheet.text.contains("<svg"), "the code to its reading");
    let hot = w.get(&ladder("400")).await;
    assert!(
        hot.one(".error").contains("400 °C"),
        "{}",
        hot.one(".error")
    );
    assert!(!hot.text.contains("/ladder/file"));
    w.db.remove().await;
}

#[tokio::test]
async fn a_container_names_the_print_files_it_holds_and_another_one_is_read_by_name() {
    let w = workshop().await;
    let case = w.open(&[]).await;
    let plates = container(&[
        ("plate_1.gcode", lighthouse(Recipe::default())),
        (
            "plate 2.gcode",
            lighthouse(Recipe {
                fan_change: Some((4.0, 40.0)),
                ..Recipe::default()
            }),
        ),
    ]);
    let (_, page) = added(&w, &case, "both.zip", &plates).await;
    assert_eq!(page.one("h1"), "both.zip: plate 2.gcode");
    assert!(page.text.contains("holds 2 print files"));
    let other = page
        .links()
        .into_iter()
        .find(|l| l.contains("entry="))
        .unwrap();
    let form = w.get(&other).await;
    assert_eq!(form.attribute("#entry", "value"), "plate_1.gcode");
    w.db.remove().await;
}

fn container(entries: &[(&str, Vec<u8>)]) -> Vec<u8> {
    let mut writer = zip::ZipWriter::new(std::io::Cursor::new(Vec::new()));
    for (name, bytes) in entries {
        let options = zip::write::SimpleFileOptions::default();
        writer.start_file(*name, options).unwrap();
        std::io::Write::write_all(&mut writer, bytes).unwrap();
    }
    writer.finish().unwrap().into_inner()
}

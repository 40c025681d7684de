//! Photos: judged, shown, marked, taken back; bad ones named beside the good.

use crate::intake::at;
use crate::kit::{Workshop, workshop};
use axum::body::Body;
use axum::http::{Request, StatusCode, header};
use suspect_pictures::render::{Flaw, Scene, photo};

pub fn shot(blur: u32) -> Vec<u8> {
    photo(&Scene {
        colour: [60, 110, 160],
        flaw: Flaw::Bands,
        lamp: 1.0,
        blur,
    })
}

#[tokio::test]
async fn pictures_are_judged_shown_marked_and_taken_back() {
    let w = workshop().await;
    let case = w.open(&[]).await;
    let sent = w
        .upload(
            &case,
            &[
                ("C:\\photos\\<b>sharp</b>.jpg", &shot(0)),
                ("blurred.jpg", &shot(7)),
            ],
        )
        .await;
    assert_eq!(sent.status, StatusCode::SEE_OTHER, "{}", sent.text);
    let page = at(&w, &case, "pictures").await;
    let verdicts = page.all(".verdict");
    assert!(
        verdicts[0].contains("Sharp and well lit")
            && verdicts[1].contains("Too blurred to judge layers"),
        "{verdicts:?}"
    );
    assert!(!page.text.contains("<b>sharp"), "a file's name is a name");
    let small = page.attribute(".picture-cards img", "src");
    let answer = w.pages_raw(&small).await;
    assert_eq!(
        (answer.0.as_str(), &answer.1[..3]),
        ("image/jpeg", &[0xff, 0xd8, 0xff][..])
    );

    marked(&w, &case, &page.attribute(".picture-cards a", "href")).await;
    let entry = page.attribute(".picture-cards form input[name=entry]", "value");
    w.record(&case, "retract", &[("entry", &entry), ("part", "pictures")])
        .await;
    assert_eq!(
        at(&w, &case, "pictures")
            .await
            .all(".picture-cards li")
            .len(),
        1
    );
    w.db.remove().await;
}

/// Marks are drawn and described, refused outside the picture, and taken away again.
async fn marked(w: &Workshop, case: &str, picture: &str) {
    let marks = format!(
        "{}/marks",
        picture.strip_prefix(&format!("{case}/")).unwrap()
    );
    w.record(
        case,
        &marks,
        &[
            ("kind", "arrow"),
            ("x", "30"),
            ("y", "40"),
            ("text", "<i>here</i>"),
        ],
    )
    .await;
    w.record(
        case,
        &marks,
        &[
            ("kind", "circle"),
            ("x", "50"),
            ("y", "50"),
            ("to_x", "60"),
            ("to_y", "50"),
        ],
    )
    .await;
    let shown = w.get(picture).await;
    assert_eq!(shown.all(".mark-row").len(), 2);
    assert!(shown.text.contains("class=\"mark-line\"") && !shown.text.contains("<i>here"));
    let outside = w
        .post(
            &format!("{case}/{marks}"),
            &[
                ("seq", &shown.seq()),
                ("kind", "text"),
                ("x", "130"),
                ("y", "5"),
                ("text", "x"),
            ],
        )
        .await;
    assert!(
        outside.status == StatusCode::UNPROCESSABLE_ENTITY
            && outside
                .one("#mark-form .error")
                .contains("outside the picture")
    );
    let first = shown.attribute("button[name=remove]", "value");
    w.record(case, &marks, &[("remove", &first)]).await;
    assert_eq!(w.get(picture).await.all(".mark-row").len(), 1);
}

#[tokio::test]
async fn bad_pictures_get_a_clear_message_and_good_ones_beside_them_are_kept() {
    let w = workshop().await;
    let case = w.open(&[]).await;
    let whole = shot(0);
    let mixed = w
        .upload(
            &case,
            &[
                ("note.jpg", b"just text"),
                ("good.jpg", &whole),
                ("cut.jpg", &whole[..whole.len() / 3]),
            ],
        )
        .await;
    assert_eq!(mixed.status, StatusCode::UNPROCESSABLE_ENTITY);
    let errors = mixed.all("main .error");
    assert!(
        errors[0].starts_with("note.jpg: This is no JPEG, PNG or WebP picture")
            && errors[1].starts_with("cut.jpg: The picture is damaged"),
        "{errors:?}"
    );
    assert_eq!(mixed.all(".picture-cards li").len(), 1);
    let large = w
        .upload(&case, &[("large.jpg", &vec![0xff; 13 * 1024 * 1024])])
        .await;
    assert!(
        large
            .one("main .error")
            .contains("large.jpg: The file has 13 MB: at most 12 MB"),
        "{}",
        large.one("main .error")
    );
    assert!(
        w.upload(&case, &[])
            .await
            .one("main .error")
            .contains("No picture was chosen")
    );
    broken_uploads_record_nothing(&w, &case, &whole).await;
    the_ninth_is_refused(&w, &case).await;
    let unknown = w
        .get(&format!(
            "{case}/pictures/{}/full.jpg",
            suspect_store::Uuid::now_v7()
        ))
        .await;
    assert_eq!(unknown.status, StatusCode::NOT_FOUND);
    w.db.remove().await;
}

async fn broken_uploads_record_nothing(w: &Workshop, case: &str, whole: &[u8]) {
    let mut broken =
        b"--edge\r\nContent-Disposition: form-data; name=\"files\"; filename=\"half.jpg\"\r\n\r\n"
            .to_vec();
    broken.extend(&whole[..2000]);
    assert!(
        w.send_upload(case, broken)
            .await
            .one("main .error")
            .contains("broke off")
    );
    let no_form = Request::post(format!("{case}/pictures"))
        .header(header::CONTENT_TYPE, "image/jpeg")
        .body(Body::from(whole.to_vec()))
        .unwrap();
    let page = w.send(no_form).await;
    assert!(
        page.status == StatusCode::UNSUPPORTED_MEDIA_TYPE
            && page.text.contains("Nothing was recorded")
    );
}

/// Small ones fill the case; the ninth is refused by name.
async fn the_ninth_is_refused(w: &Workshop, case: &str) {
    let tiny: Vec<u8> = shot(0);
    let many: Vec<(&str, &[u8])> = (0..8).map(|_| ("more.jpg", tiny.as_slice())).collect();
    let ninth = w.upload(case, &many).await;
    assert_eq!(ninth.all(".picture-cards li").len(), 8);
    assert!(
        ninth
            .one("main .error")
            .contains("holds 8 pictures already"),
        "{:?}",
        ninth.all("main .error")
    );
    assert!(ninth.all("#drop").is_empty());
}

//! What comes in as a picture, and what is kept of it.

use image::codecs::png::{PngDecoder, PngEncoder};
use image::{ExtendedColorType, ImageDecoder, ImageEncoder, ImageFormat, RgbImage};
use std::io::Cursor;
use suspect_core::picture::Fault;
use suspect_pictures::render::{Flaw, Scene, photo};
use suspect_pictures::{LARGEST_FILE, Refused, take_in};

fn scene(flaw: Flaw) -> Scene {
    Scene {
        colour: [60, 110, 160],
        flaw,
        lamp: 1.0,
        blur: 0,
    }
}

fn encoded(image: &RgbImage, format: ImageFormat) -> Vec<u8> {
    let mut out = Cursor::new(Vec::new());
    image.write_to(&mut out, format).unwrap();
    out.into_inner()
}

/// An EXIF segment that says which way the camera was held, and where it was.
fn with_exif(jpeg: &[u8], orientation: u8) -> Vec<u8> {
    let mut tiff = b"MM\0\x2a\0\0\0\x08".to_vec();
    tiff.extend([0, 2]);
    tiff.extend([0x01, 0x12, 0, 3, 0, 0, 0, 1, 0, orientation, 0, 0]);
    tiff.extend([0x01, 0x0e, 0, 2, 0, 0, 0, 13, 0, 0, 0, 38]);
    tiff.extend([0, 0, 0, 0]);
    tiff.extend(b"secret place\0");
    let mut out = jpeg[..2].to_vec();
    out.extend([0xff, 0xe1]);
    out.extend(((tiff.len() + 8) as u16).to_be_bytes());
    out.extend(b"Exif\0\0");
    out.extend(tiff);
    out.extend(&jpeg[2..]);
    out
}

fn size(jpeg: &[u8]) -> (u32, u32) {
    image::load_from_memory_with_format(jpeg, ImageFormat::Jpeg)
        .map(|i| (i.width(), i.height()))
        .unwrap()
}

#[test]
fn jpeg_png_and_webp_are_kept_as_jpeg_with_a_thumbnail() {
    let image = RgbImage::from_fn(3000, 1000, |x, y| {
        image::Rgb([(x / 9 * 31) as u8, (y / 7 * 57) as u8, 90])
    });
    for format in [ImageFormat::Jpeg, ImageFormat::Png, ImageFormat::WebP] {
        let kept = take_in(&encoded(&image, format)).unwrap();
        assert_eq!(size(&kept.picture), (2048, 682), "{format:?}");
        assert_eq!(size(&kept.thumbnail), (400, 133), "{format:?}");
        assert_eq!((kept.judgement.width, kept.judgement.height), (3000, 1000));
    }
}

#[test]
fn the_camera_may_be_held_any_way_and_its_metadata_is_gone() {
    let upright = encoded(
        &RgbImage::from_fn(80, 40, |x, _| {
            image::Rgb([if x < 40 { 230 } else { 20 }; 3])
        }),
        ImageFormat::Jpeg,
    );
    let kept = take_in(&with_exif(&upright, 6)).unwrap();
    assert_eq!(size(&kept.picture), (40, 80));
    let turned = image::load_from_memory(&kept.picture).unwrap().into_rgb8();
    assert!(
        turned.get_pixel(20, 10)[0] > 200 && turned.get_pixel(20, 70)[0] < 60,
        "turned clockwise"
    );
    assert!(
        !kept
            .picture
            .windows(6)
            .any(|w| w == b"secret" || w == b"Exif\0\0")
    );
}

#[test]
fn what_is_no_still_picture_within_the_limits_is_refused() {
    let small = encoded(&RgbImage::new(64, 64), ImageFormat::Jpeg);
    let refused = |bytes: &[u8]| take_in(bytes).unwrap_err();
    assert_eq!(
        refused(b"just text, called photo.jpg"),
        Refused::NotAPicture
    );
    assert_eq!(refused(b""), Refused::NotAPicture);
    assert_eq!(refused(b"GIF89a\x01\0\x01\0\0\0\0;"), Refused::NotAPicture);
    assert_eq!(
        refused(&vec![0xff; LARGEST_FILE + 1]),
        Refused::TooLarge(LARGEST_FILE + 1)
    );
    let large = photo(&scene(Flaw::Clean));
    assert_eq!(refused(&large[..large.len() / 2]), Refused::Damaged);
    assert_eq!(refused(&small[..30]), Refused::Damaged);
    let png = encoded(&RgbImage::new(64, 64), ImageFormat::Png);
    assert_eq!(refused(&png[..png.len() / 2]), Refused::Damaged);
    let webp = encoded(
        &RgbImage::from_fn(64, 64, |x, y| image::Rgb([x as u8, y as u8, 0])),
        ImageFormat::WebP,
    );
    assert_eq!(refused(&webp[..webp.len() / 2]), Refused::Damaged);
}

#[test]
fn pixels_are_counted_before_they_are_decoded() {
    // 200 million grey pixels pack into a small file: the header alone must stop it.
    let mut bomb = Vec::new();
    PngEncoder::new(&mut bomb)
        .write_image(
            &vec![0; 20_000 * 10_000],
            20_000,
            10_000,
            ExtendedColorType::L8,
        )
        .unwrap();
    assert!(
        bomb.len() < LARGEST_FILE
            && PngDecoder::new(Cursor::new(&bomb)).unwrap().dimensions() == (20_000, 10_000)
    );
    assert_eq!(
        take_in(&bomb).unwrap_err(),
        Refused::TooLong(20_000, 10_000)
    );
    let refused = |width: u32, height: u32, colour: ExtendedColorType| {
        let bytes =
            vec![0; (width as usize * height as usize) * colour.bits_per_pixel() as usize / 8];
        let mut png = Vec::new();
        let encoder = PngEncoder::new(&mut png);
        encoder.write_image(&bytes, width, height, colour).unwrap();
        take_in(&png).unwrap_err()
    };
    let many = refused(8_000, 8_000, ExtendedColorType::L8);
    assert_eq!(many, Refused::TooManyPixels(8_000, 8_000));
    let line = refused(50_000, 1, ExtendedColorType::L8);
    assert_eq!(line, Refused::TooLong(50_000, 1));
    // Sixteen bits a colour, see-through: eleven bytes a pixel while it is converted.
    let deep = refused(4_000, 4_000, ExtendedColorType::Rgba16);
    assert!(
        matches!(deep, Refused::TooDeep(4_000, 4_000, 13)),
        "{deep:?}"
    );
    assert!(deep.to_string().contains("at most 13 million"));
}

#[test]
fn animated_pictures_are_refused() {
    // An animation chunk before the pixels makes a PNG move, an ANIM chunk a WebP.
    let png = encoded(&RgbImage::new(8, 8), ImageFormat::Png);
    let mut moving = png[..33].to_vec();
    moving.extend([0, 0, 0, 8]);
    let chunk = [b"acTL".as_slice(), &[0, 0, 0, 2, 0, 0, 0, 0]].concat();
    moving.extend(&chunk);
    moving.extend(crc(&chunk).to_be_bytes());
    moving.extend(&png[33..]);
    assert_eq!(take_in(&moving).unwrap_err(), Refused::Animated);

    let mut body =
        b"WEBPVP8X\x0a\0\0\0\x02\0\0\0\x07\0\0\x07\0\0ANIM\x06\0\0\0\0\0\0\0\0\0".to_vec();
    body.extend(b"ANMF\x18\0\0\0\0\0\0\0\0\0\x07\0\0\x07\0\0\x64\0\0\0VP8L\0\0\0\0");
    let mut webp = b"RIFF".to_vec();
    webp.extend((body.len() as u32).to_le_bytes());
    webp.extend(body);
    assert_eq!(take_in(&webp).unwrap_err(), Refused::Animated);
}

fn crc(bytes: &[u8]) -> u32 {
    !bytes.iter().fold(!0u32, |crc, b| {
        (0..8).fold(crc ^ u32::from(*b), |c, _| {
            if c & 1 == 1 {
                0xedb8_8320 ^ (c >> 1)
            } else {
                c >> 1
            }
        })
    })
}

#[test]
fn made_up_photos_are_always_the_same_and_judged_as_they_should_be() {
    let flaws = [
        Flaw::Step(0.5, 0.08),
        Flaw::Strings,
        Flaw::Pits,
        Flaw::Bands,
        Flaw::Lifted,
        Flaw::Starved,
        Flaw::Clean,
    ];
    for flaw in flaws {
        let sharp = photo(&scene(flaw));
        assert_eq!(sharp, photo(&scene(flaw)), "{flaw:?}");
        assert_eq!(
            take_in(&sharp).unwrap().judgement.faults(),
            [],
            "{flaw:?} {:?}",
            take_in(&sharp).unwrap().judgement
        );
    }
    let judged = |scene: Scene| take_in(&photo(&scene)).unwrap().judgement.faults();
    assert_eq!(
        judged(Scene {
            blur: 6,
            ..scene(Flaw::Bands)
        }),
        [Fault::Blurred]
    );
    assert!(
        judged(Scene {
            lamp: 0.08,
            ..scene(Flaw::Bands)
        })
        .contains(&Fault::Dark)
    );
    assert!(
        judged(Scene {
            lamp: 2.6,
            ..scene(Flaw::Bands)
        })
        .contains(&Fault::Light)
    );
}

//! How much memory a picture may take. A file of its own: the most a process ever held is measured.

use flate2::write::ZlibEncoder;
use image::codecs::png::PngEncoder;
use image::{ExtendedColorType, ImageEncoder};
use std::io::Write;
use suspect_pictures::{Refused, take_in};

/// The most memory this process has held, in kilobytes; 0 where the system does not tell it.
fn peak() -> u64 {
    let status = std::fs::read_to_string("/proc/self/status").unwrap_or_default();
    let line = status.lines().find_map(|l| l.strip_prefix("VmHWM:"));
    line.and_then(|l| l.split_whitespace().next()?.parse().ok())
        .unwrap_or(0)
}

fn chunk(kind: &[u8; 4], content: &[u8]) -> Vec<u8> {
    let body = [kind.as_slice(), content].concat();
    let mut crc = flate2::Crc::new();
    crc.update(&body);
    let length = (content.len() as u32).to_be_bytes();
    [length.as_slice(), &body, &crc.sum().to_be_bytes()].concat()
}

#[test]
fn a_colour_profile_that_unpacks_to_four_hundred_megabytes_is_never_unpacked_whole() {
    let mut profile = b"x\0\0".to_vec();
    let mut packer = ZlibEncoder::new(&mut profile, flate2::Compression::best());
    for _ in 0..400 {
        packer.write_all(&[0; 1_000_000]).unwrap();
    }
    packer.finish().unwrap();
    let mut png = Vec::new();
    let pixels = vec![90; 64 * 64 * 3];
    PngEncoder::new(&mut png)
        .write_image(&pixels, 64, 64, ExtendedColorType::Rgb8)
        .unwrap();
    let bomb = [&png[..33], &chunk(b"iCCP", &profile), &png[33..]].concat();
    assert!(bomb.len() < 1_000_000);
    let before = peak();
    // Without its profile it is an ordinary picture, or it is refused: never unpacked whole.
    match take_in(&bomb) {
        Ok(_) => {}
        Err(refused) => assert_eq!(refused, Refused::Damaged),
    }
    assert!(peak() - before < 60_000, "{} kB more", peak() - before);
}

//! How long taking a picture in lasts: 12 megapixels, as a telephone sends them.

use criterion::{Criterion, criterion_group, criterion_main};
use image::{ImageFormat, RgbImage};
use std::hint::black_box;
use std::io::Cursor;

fn pictures(c: &mut Criterion) {
    let image = RgbImage::from_fn(4032, 3024, |x, y| {
        let layer = (f64::from(y) * 0.21).sin() * 50.0 + 120.0;
        let grain = (x.wrapping_mul(2_654_435_761) ^ y.wrapping_mul(40_503)) % 13;
        image::Rgb([layer as u8, (layer * 0.8) as u8 + grain as u8, 90])
    });
    let mut jpeg = Cursor::new(Vec::new());
    image
        .write_to(&mut jpeg, ImageFormat::Jpeg)
        .expect("an image that can be written");
    let jpeg = jpeg.into_inner();
    c.bench_function("brightness along a line of 12 megapixels", |b| {
        let grey = suspect_pictures::Grey::open(&jpeg).expect("a picture");
        b.iter(|| grey.along(black_box((900.0, 200.0)), black_box((900.0, 2900.0))));
    });
    let pixels = || suspect_core::picture::Pixels::new(4032, 3024, image.as_raw());
    c.bench_function("judge 12 megapixels", |b| {
        b.iter(|| suspect_core::picture::judge(black_box(pixels())));
    });
    c.bench_function("take in 12 megapixels", |b| {
        b.iter(|| suspect_pictures::take_in(black_box(&jpeg)));
    });
}

criterion_group! {
    name = benches;
    config = Criterion::default().sample_size(10);
    targets = pictures
}
criterion_main!(benches);

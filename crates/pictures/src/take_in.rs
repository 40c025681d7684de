//! From bytes of unknown origin to a picture that can be kept: limits before decoding, pixels only,
//! nothing of the original file.

use fast_image_resize::images::{Image, ImageRef};
use fast_image_resize::{FilterType, PixelType, ResizeAlg, ResizeOptions, Resizer};
use image::codecs::jpeg::JpegEncoder;
use image::codecs::png::PngDecoder;
use image::codecs::webp::WebPDecoder;
use image::metadata::Orientation;
use image::{ColorType, DynamicImage, ImageDecoder, ImageFormat, ImageReader, Limits, RgbImage};
use std::io::Cursor;
use suspect_core::picture::{Judgement, Pixels, judge};

/// Largest file taken, in bytes.
pub const LARGEST_FILE: usize = 12 * 1024 * 1024;
/// Most pixels decoded: what the best telephones take, and 150 MB of memory for a moment.
pub const MOST_PIXELS: u64 = 50_000_000;
/// Longest side, in pixels: beyond it no camera goes, and single lines of pixels cost more than
/// they show.
pub const LONGEST_SIDE: u32 = 16_384;
/// Bytes of the decoded picture: fifty million pixels at three bytes each, fewer where a pixel
/// takes more.
const MOST_DECODED: u64 = 3 * MOST_PIXELS;
/// Long edge of the kept picture, in pixels: enough to tell layers, a fraction of what cameras
/// send.
const KEPT_EDGE: u32 = 2048;
/// Long edge of the thumbnail, in pixels.
const THUMBNAIL_EDGE: u32 = 400;
/// Quality of the kept JPEG and its thumbnail, 1 to 100.
const QUALITY: (u8, u8) = (85, 78);
/// Memory a decoder may take in all, in bytes.
const MOST_MEMORY: u64 = MOST_DECODED + BESIDE_THE_PIXELS;
/// The same for what stands beside the pixels.
const BESIDE_THE_PIXELS: u64 = 16_000_000;
/// Bytes a pixel that a JPEG in several passes keeps until the last: two for each of three colours.
const PASSES: u64 = 6;

/// A picture ready to be kept.
#[derive(Debug, Clone)]
pub struct Kept {
    /// The picture as JPEG, upright, without metadata, at most 2048 pixels long.
    pub picture: Vec<u8>,
    /// A small one, as JPEG.
    pub thumbnail: Vec<u8>,
    /// How good it is, measured on all pixels it came with.
    pub judgement: Judgement,
}

/// Why a picture was not taken. Nothing of it is kept.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum Refused {
    /// The file is too large.
    #[error("the file has {} MB: at most {} MB are taken. Send a smaller \
        copy.", .0.div_ceil(1024 * 1024), LARGEST_FILE / 1024 / 1024)]
    TooLarge(usize),
    /// The bytes are no picture we know, whatever the file is called.
    #[error(
        "this is no JPEG, PNG or WebP picture, whatever its name says. Send a photo in one of \
            these formats."
    )]
    NotAPicture,
    /// The picture says of itself that it has too many pixels.
    #[error("the picture has {0} × {1} pixels: at most {mega} million are taken. Send a smaller \
        copy.", mega = MOST_PIXELS / 1_000_000)]
    TooManyPixels(u32, u32),
    /// One side is longer than any camera's.
    #[error(
        "the picture has {0} × {1} pixels: at most {LONGEST_SIDE} on a side are taken. Send a \
            smaller copy."
    )]
    TooLong(u32, u32),
    /// Its pixels take more memory than there is room for: of its kind at most so many million.
    #[error(
        "the picture has {0} × {1} pixels, and of this kind (deep, see-through or in several \
            passes) at most {2} million are taken. Send it as an ordinary photo or a smaller copy."
    )]
    TooDeep(u32, u32, u64),
    /// The picture moves.
    #[error("this is an animated picture. Send a still photo.")]
    Animated,
    /// The picture cannot be decoded to its end.
    #[error("the picture is damaged or was cut off on its way. Send it again.")]
    Damaged,
}

/// Takes a picture in.
///
/// # Errors
/// [`Refused`], whose text can be shown as it is.
pub fn take_in(bytes: &[u8]) -> Result<Kept, Refused> {
    let Decoded { image, orientation } = decoded(bytes)?;
    let (width, height) = (image.width() as usize, image.height() as usize);
    let mut judgement = judge(Pixels::new(width, height, image.as_raw()));
    let lying = matches!(
        orientation,
        Orientation::Rotate90
            | Orientation::Rotate270
            | Orientation::Rotate90FlipH
            | Orientation::Rotate270FlipH
    );
    if lying {
        (judgement.width, judgement.height) = (judgement.height, judgement.width);
    }
    // Turned once it is small: a second copy of all pixels would double what is needed.
    let mut picture = DynamicImage::ImageRgb8(shrunk(image, KEPT_EDGE)?);
    picture.apply_orientation(orientation);
    let picture = picture.into_rgb8();
    let small = shrunk(picture.clone(), THUMBNAIL_EDGE)?;
    Ok(Kept {
        picture: encode(&picture, QUALITY.0)?,
        thumbnail: encode(&small, QUALITY.1)?,
        judgement,
    })
}

/// A picture upright, in all its pixels.
///
/// # Errors
/// As [`take_in`].
pub fn upright(bytes: &[u8]) -> Result<RgbImage, Refused> {
    let Decoded { image, orientation } = decoded(bytes)?;
    let mut picture = DynamicImage::ImageRgb8(image);
    picture.apply_orientation(orientation);
    Ok(picture.into_rgb8())
}

/// Decodes what is a picture we know, within the limits.
fn decoded(bytes: &[u8]) -> Result<Decoded, Refused> {
    if bytes.len() > LARGEST_FILE {
        return Err(Refused::TooLarge(bytes.len()));
    }
    let format = image::guess_format(bytes).map_err(|_| Refused::NotAPicture)?;
    match format {
        ImageFormat::Jpeg if !ends_whole(bytes) => Err(Refused::Damaged),
        ImageFormat::Jpeg => {
            let reader = ImageReader::with_format(Cursor::new(bytes), format);
            let decoder = reader.into_decoder().map_err(|_| Refused::Damaged)?;
            decode(decoder, if is_progressive(bytes) { PASSES } else { 0 })
        }
        ImageFormat::Png => {
            let decoder = PngDecoder::with_limits(Cursor::new(bytes), png_limits())
                .map_err(|_| Refused::Damaged)?;
            if decoder.is_apng().map_err(|_| Refused::Damaged)? {
                return Err(Refused::Animated);
            }
            decode(decoder, 0)
        }
        ImageFormat::WebP => {
            let decoder = WebPDecoder::new(Cursor::new(bytes)).map_err(|_| Refused::Damaged)?;
            if decoder.has_animation() {
                return Err(Refused::Animated);
            }
            decode(decoder, 0)
        }
        _ => Err(Refused::NotAPicture),
    }
}

fn limits() -> Limits {
    let mut limits = Limits::default();
    limits.max_alloc = Some(MOST_MEMORY);
    limits
}

/// Room for what stands in a PNG beside its pixels: texts and colour profiles unpack to any size.
fn png_limits() -> Limits {
    let mut limits = Limits::default();
    limits.max_alloc = Some(BESIDE_THE_PIXELS);
    limits
}

/// Whether a JPEG comes in several passes, whose coefficients are all kept until the last.
fn is_progressive(bytes: &[u8]) -> bool {
    let mut at = 2;
    while let Some([0xff, marker, high, low]) = bytes.get(at..at + 4) {
        match marker {
            0xc2 | 0xc6 | 0xca | 0xce => return true,
            0xda => return false,
            0xff => at += 1,
            _ => at += 2 + usize::from(u16::from_be_bytes([*high, *low])),
        }
    }
    false
}

/// A JPEG that was cut off decodes to a grey rest without complaint, so its end mark is looked for.
/// Cameras may write more behind it.
fn ends_whole(bytes: &[u8]) -> bool {
    let scan = bytes.windows(2).rposition(|pair| pair == [0xff, 0xda]);
    scan.is_some_and(|from| bytes[from..].windows(2).any(|pair| pair == [0xff, 0xd9]))
}

/// Pixels as they lie in the file, and how the camera was held.
struct Decoded {
    image: RgbImage,
    orientation: Orientation,
}

/// Decodes within the limits. `beside` are bytes a pixel that the decoder keeps beside its result.
fn decode(mut decoder: impl ImageDecoder, beside: u64) -> Result<Decoded, Refused> {
    let (width, height) = decoder.dimensions();
    if width.max(height) > LONGEST_SIDE {
        return Err(Refused::TooLong(width, height));
    }
    let pixels = u64::from(width) * u64::from(height);
    if pixels > MOST_PIXELS {
        return Err(Refused::TooManyPixels(width, height));
    }
    // What is not three bytes a pixel is converted, and for a moment there are both.
    let converted = if decoder.color_type() == ColorType::Rgb8 {
        0
    } else {
        3
    };
    if decoder.total_bytes() + (converted + beside) * pixels > MOST_DECODED {
        let each = u64::from(decoder.color_type().bytes_per_pixel()) + converted + beside;
        return Err(Refused::TooDeep(
            width,
            height,
            MOST_DECODED / each / 1_000_000,
        ));
    }
    decoder
        .set_limits(limits())
        .map_err(|_| Refused::TooManyPixels(width, height))?;
    let orientation = decoder.orientation().unwrap_or(Orientation::NoTransforms);
    let image = DynamicImage::from_decoder(decoder).map_err(|_| Refused::Damaged)?;
    Ok(Decoded {
        image: image.into_rgb8(),
        orientation,
    })
}

/// Width and height of the picture that is kept of one so wide and so high, in pixels.
pub fn kept_size(width: u32, height: u32) -> (u32, u32) {
    within(width, height, KEPT_EDGE)
}

/// A size with its longer side at most `edge`, in proportion.
fn within(width: u32, height: u32, edge: u32) -> (u32, u32) {
    let long = width.max(height);
    let scaled = |side: u32| match long <= edge {
        true => side,
        false => (u64::from(side) * u64::from(edge) / u64::from(long)).max(1) as u32,
    };
    (scaled(width), scaled(height))
}

/// No larger than `edge` pixels; small pictures stay as they are.
fn shrunk(image: RgbImage, edge: u32) -> Result<RgbImage, Refused> {
    let long = image.width().max(image.height());
    if long <= edge {
        return Ok(image);
    }
    let (width, height) = within(image.width(), image.height(), edge);
    let from = ImageRef::new(
        image.width(),
        image.height(),
        image.as_raw(),
        PixelType::U8x3,
    )
    .map_err(|_| Refused::Damaged)?;
    let mut to = Image::new(width, height, PixelType::U8x3);
    let options = ResizeOptions::new().resize_alg(ResizeAlg::Convolution(FilterType::Box));
    Resizer::new()
        .resize(&from, &mut to, &options)
        .map_err(|_| Refused::Damaged)?;
    RgbImage::from_raw(to.width(), to.height(), to.into_vec()).ok_or(Refused::Damaged)
}

fn encode(image: &RgbImage, quality: u8) -> Result<Vec<u8>, Refused> {
    let mut out = Vec::new();
    JpegEncoder::new_with_quality(&mut out, quality)
        .encode_image(image)
        .map_err(|_| Refused::Damaged)?;
    Ok(out)
}

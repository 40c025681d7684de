//! The cookie that makes a browser a shared station.

use axum::http::{HeaderMap, HeaderValue, header};

/// Its name.
const STATION: &str = "us-station";
/// A station stays one for a year, in seconds.
const YEAR: u32 = 31_536_000;

/// What a browser holds of being a station.
pub fn secret(headers: &HeaderMap) -> Option<String> {
    let cookies = headers.get_all(header::COOKIE).iter();
    let pairs = cookies
        .filter_map(|v| v.to_str().ok())
        .flat_map(|v| v.split(';'));
    let mut own = pairs.filter_map(|pair| pair.trim().split_once('='));
    let (_, secret) = own.find(|(name, _)| *name == STATION)?;
    (!secret.is_empty()).then(|| secret.to_string())
}

/// Makes a browser a station, or none any more where there is no secret.
pub fn cookie(secret: Option<&str>, https: bool) -> Option<HeaderValue> {
    let (value, age) = match secret {
        Some(secret) => (secret, YEAR),
        None => ("", 0),
    };
    let secure = if https { "; Secure" } else { "" };
    let text = format!("{STATION}={value}; Path=/; Max-Age={age}; HttpOnly; SameSite=Lax{secure}");
    HeaderValue::from_str(&text).ok()
}

//! Where a request comes from.

use axum::extract::FromRequestParts;
use axum::http::request::Parts;
use std::convert::Infallible;
use std::net::IpAddr;

/// The address of whoever is on the other end; unknown where nobody said.
#[derive(Debug, Clone, Copy, Default)]
pub struct Peer(pub Option<IpAddr>);

impl Peer {
    /// As it is kept and counted.
    pub fn text(self) -> String {
        self.0
            .map_or("unknown".into(), |ip| ip.to_canonical().to_string())
    }
}

impl<S: Sync> FromRequestParts<S> for Peer {
    type Rejection = Infallible;

    async fn from_request_parts(parts: &mut Parts, _: &S) -> Result<Self, Infallible> {
        Ok(parts.extensions.get::<Peer>().copied().unwrap_or_default())
    }
}

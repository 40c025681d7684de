//! How the pages reach a browser: plainly or behind a certificate, directly or through a proxy that
//! is trusted to say who asks.

use crate::people::peer::Peer;
use axum::http::{HeaderMap, HeaderName, HeaderValue};
use ipnet::IpNet;
use std::net::IpAddr;
use std::path::Path;
use std::sync::Arc;
use tokio::net::TcpStream;
use tokio_rustls::rustls::ServerConfig;
use tokio_rustls::rustls::crypto::ring;
use tokio_rustls::rustls::pki_types::pem::PemObject;
use tokio_rustls::rustls::pki_types::{CertificateDer, PrivateKeyDer};
use tokio_rustls::{Accept, TlsAcceptor};

/// For whom a proxy asks, the last one added last; and by which way they came to it.
const FOR: HeaderName = HeaderName::from_static("x-forwarded-for");
const PROTO: HeaderName = HeaderName::from_static("x-forwarded-proto");

/// The wire.
#[derive(Clone, Default)]
pub struct Wire {
    certificate: Option<TlsAcceptor>,
    trusted: Arc<Vec<IpNet>>,
}

/// Why a wire cannot be had.
#[derive(Debug, thiserror::Error)]
pub enum WireError {
    /// A file of the certificate or the key.
    #[error("{0} cannot be read as a certificate or its key in PEM: {1}")]
    File(String, String),
    /// They do not belong together.
    #[error("certificate and key do not go together: {0}")]
    Pair(String),
    /// An address of a proxy.
    #[error("`{0}` is no address and no network: write 10.0.0.7 or 10.0.0.0/24")]
    Proxy(String),
}

/// A connection before its first request.
pub enum Secure {
    /// As it is.
    Plain(TcpStream),
    /// The certificate is being shown.
    Greeting(Box<Accept<TcpStream>>),
}

impl Wire {
    /// Behind a certificate, read from files in PEM.
    ///
    /// # Errors
    /// When a file cannot be read, or the two do not belong together.
    pub fn with_certificate(self, certificate: &Path, key: &Path) -> Result<Self, WireError> {
        let of = |path: &Path, e: String| WireError::File(path.display().to_string(), e);
        let chain: Result<Vec<_>, _> = CertificateDer::pem_file_iter(certificate)
            .map_err(|e| of(certificate, e.to_string()))?
            .collect();
        let chain = chain.map_err(|e| of(certificate, e.to_string()))?;
        let key = PrivateKeyDer::from_pem_file(key).map_err(|e| of(key, e.to_string()))?;
        let config = ServerConfig::builder_with_provider(Arc::new(ring::default_provider()))
            .with_safe_default_protocol_versions()
            .map_err(|e| WireError::Pair(e.to_string()))?
            .with_no_client_auth()
            .with_single_cert(chain, key)
            .map_err(|e| WireError::Pair(e.to_string()))?;
        Ok(Self {
            certificate: Some(TlsAcceptor::from(Arc::new(config))),
            ..self
        })
    }

    /// Through these proxies, addresses or networks: what they say of whoever asks is believed.
    ///
    /// # Errors
    /// The first that is neither.
    pub fn with_proxies<'a>(
        self,
        named: impl IntoIterator<Item = &'a str>,
    ) -> Result<Self, WireError> {
        let net = |text: &str| {
            let net = text.parse::<IpNet>();
            net.or_else(|_| text.parse::<IpAddr>().map(IpNet::from))
                .map_err(|_| WireError::Proxy(text.to_string()))
        };
        let named = named.into_iter().map(str::trim).filter(|t| !t.is_empty());
        let trusted: Result<Vec<IpNet>, _> = named.map(net).collect();
        Ok(Self {
            trusted: Arc::new(trusted?),
            ..self
        })
    }

    /// Whether what goes over it can be read by nobody on the way.
    pub fn is_secure(&self) -> bool {
        self.certificate.is_some()
    }

    /// A connection that was taken.
    pub(crate) fn secure(&self, stream: TcpStream) -> Secure {
        match &self.certificate {
            None => Secure::Plain(stream),
            Some(certificate) => Secure::Greeting(Box::new(certificate.accept(stream))),
        }
    }

    fn trusts(&self, address: IpAddr) -> bool {
        let address = address.to_canonical();
        self.trusted.iter().any(|net| net.contains(&address))
    }

    /// Who asks, and what else of it is to be believed: what somebody says of themselves who is no
    /// trusted proxy is taken out.
    pub(crate) fn tell(&self, from: IpAddr, headers: &mut HeaderMap) -> Peer {
        let peer = match self.trusts(from) {
            true => self.asked_for(from, headers),
            false => {
                headers.remove(PROTO);
                from
            }
        };
        headers.remove(FOR);
        if self.is_secure() {
            headers.insert(PROTO, HeaderValue::from_static("https"));
        }
        Peer(Some(peer))
    }

    /// For whom a trusted proxy asks: the last address that is no proxy of ours. What stands before
    /// it anybody may have written.
    fn asked_for(&self, from: IpAddr, headers: &HeaderMap) -> IpAddr {
        let said = headers.get_all(FOR).iter().filter_map(|v| v.to_str().ok());
        let all: Vec<&str> = said
            .flat_map(|line| line.split(','))
            .map(str::trim)
            .collect();
        for text in all.iter().rev() {
            match text.parse::<IpAddr>() {
                Ok(address) if self.trusts(address) => {}
                Ok(address) => return address.to_canonical(),
                Err(_) => return from,
            }
        }
        from
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn asked(wire: &Wire, from: &str, said: &[&str]) -> String {
        let mut headers = HeaderMap::new();
        for line in said {
            headers.append(FOR, line.parse().unwrap());
        }
        headers.insert(PROTO, HeaderValue::from_static("https"));
        let peer = wire.tell(from.parse().unwrap(), &mut headers);
        assert!(headers.get(FOR).is_none());
        assert_eq!(
            headers.contains_key(PROTO),
            wire.trusts(from.parse().unwrap())
        );
        peer.text()
    }

    #[test]
    fn only_a_trusted_proxy_says_who_asks() {
        let wire = Wire::default();
        let wire = wire
            .with_proxies(["127.0.0.1", " 10.0.0.0/24 ", ""])
            .unwrap();
        assert_eq!(asked(&wire, "127.0.0.1", &["198.51.100.7"]), "198.51.100.7");
        let chain = ["203.0.113.9, 198.51.100.7", "10.0.0.3"];
        assert_eq!(asked(&wire, "127.0.0.1", &chain), "198.51.100.7");
        assert_eq!(asked(&wire, "192.0.2.4", &["198.51.100.7"]), "192.0.2.4");
        assert_eq!(asked(&wire, "127.0.0.1", &["nonsense"]), "127.0.0.1");
        assert_eq!(
            asked(&wire, "::ffff:127.0.0.1", &["198.51.100.7"]),
            "198.51.100.7"
        );
        assert_eq!(
            asked(&Wire::default(), "127.0.0.1", &["198.51.100.7"]),
            "127.0.0.1"
        );
        assert!(Wire::default().with_proxies(["proxy.example"]).is_err());
    }
}

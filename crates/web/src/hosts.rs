//! Which names this workshop answers to. A foreign page can make a browser send requests here under
//! a name of its own; with an allow-list such a name reads nothing and writes nothing.

use crate::page_error::PageError;
use axum::extract::{Request, State};
use axum::http::{HeaderMap, Uri, header};
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};
use std::net::IpAddr;
use std::sync::Arc;

/// Names for this computer that only this computer understands.
const LOOPBACK: [&str; 3] = ["localhost", "127.0.0.1", "::1"];

/// The names that are ours.
#[derive(Debug, Clone)]
pub struct Hosts {
    names: Arc<Vec<String>>,
    /// Listening everywhere: any number of an address may be ours. A number is never a foreign
    /// name.
    any_number: bool,
}

impl Hosts {
    /// Loopback names, what we listen on, and names allowed by a setting.
    pub fn new(listening_on: &str, allowed: impl IntoIterator<Item = String>) -> Self {
        let own = bare(listening_on);
        let any_number = own.parse::<IpAddr>().is_ok_and(|ip| ip.is_unspecified());
        let mut names: Vec<String> = LOOPBACK.map(str::to_string).to_vec();
        names.push(own);
        names.extend(
            allowed
                .into_iter()
                .map(|name| bare(name.trim()))
                .filter(|n| !n.is_empty()),
        );
        Self {
            names: Arc::new(names),
            any_number,
        }
    }

    /// Whether a request for this host, with or without a port, is for us.
    fn knows(&self, host: &str) -> bool {
        let Some(name) = without_port(host) else {
            return false;
        };
        self.names.contains(&name) || (self.any_number && name.parse::<IpAddr>().is_ok())
    }
}

impl Default for Hosts {
    /// Loopback names alone.
    fn default() -> Self {
        Self::new("127.0.0.1", [])
    }
}

/// A name in small letters, the brackets of an address removed.
fn bare(name: &str) -> String {
    let name = name.trim_end_matches('.').to_ascii_lowercase();
    let inner = name.strip_prefix('[').and_then(|n| n.strip_suffix(']'));
    inner.unwrap_or(&name).to_string()
}

/// The name in `name`, `name:port`, `[address]:port`; nothing for what is none of these.
fn without_port(host: &str) -> Option<String> {
    let (name, port) = match host.strip_prefix('[') {
        Some(rest) => {
            let (address, behind) = rest.split_once(']')?;
            (
                address,
                behind
                    .strip_prefix(':')
                    .or(behind.is_empty().then_some(""))?,
            )
        }
        None => host.split_once(':').unwrap_or((host, "")),
    };
    let odd = |c: char| !(c.is_ascii_alphanumeric() || matches!(c, '.' | '-' | '_' | ':'));
    let plain = !name.is_empty() && !name.contains(odd) && port.bytes().all(|b| b.is_ascii_digit());
    plain.then(|| bare(name))
}

/// The one host a request names; nothing when it names none, several, or two different ones.
fn host_of<'a>(uri: &'a Uri, headers: &'a HeaderMap) -> Option<&'a str> {
    let mut named = headers.get_all(header::HOST).iter();
    let first = named.next().and_then(|h| h.to_str().ok());
    if named.next().is_some() {
        return None;
    }
    match (
        uri.authority().map(axum::http::uri::Authority::as_str),
        first,
    ) {
        (Some(target), Some(host)) if target != host => None,
        (target, host) => target.or(host),
    }
}

/// Refuses what is meant for another host.
pub async fn known_host(State(hosts): State<Hosts>, request: Request, next: Next) -> Response {
    match host_of(request.uri(), request.headers()) {
        Some(host) if hosts.knows(host) => next.run(request).await,
        _ => PageError::WrongHost.into_response(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_names_of_ours_are_ours() {
        let own = Hosts::default();
        for ours in [
            "127.0.0.1",
            "127.0.0.1:8080",
            "localhost:1",
            "[::1]:8080",
            "LOCALHOST",
            "[::1]",
        ] {
            assert!(own.knows(ours), "{ours}");
        }
        for foreign in [
            "evil.example",
            "evil.example:8080",
            "192.168.1.5",
            "a b",
            "",
            ":8080",
            "evil.example@127.0.0.1",
            "127.0.0.1.evil.example",
            "127.0.0.1:80:80x",
            "[::1",
            "[::1]x",
        ] {
            assert!(!own.knows(foreign), "{foreign}");
        }
    }

    #[test]
    fn names_behind_a_proxy_are_allowed_by_a_setting_and_numbers_where_we_listen_everywhere() {
        let named = Hosts::new(
            "127.0.0.1",
            ["Workshop.example ".to_string(), String::new()],
        );
        assert!(named.knows("workshop.example:443") && !named.knows("other.example"));
        let everywhere = Hosts::new("0.0.0.0", []);
        assert!(everywhere.knows("192.168.1.5:8080") && everywhere.knows("[fe80::1]:8080"));
        assert!(
            !everywhere.knows("evil.example"),
            "a name may lead anywhere"
        );
        assert!(Hosts::new("192.168.1.5", []).knows("192.168.1.5:8080"));
    }
}

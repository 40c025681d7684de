//! Where devices may be: a setting of whoever runs the program, loopback alone unless it says more.

use crate::PATIENCE;
use ipnet::IpNet;
use std::collections::BTreeMap;
use std::fmt;
use std::net::{IpAddr, SocketAddr};
use tokio::net::lookup_host;
use tokio::time::timeout;

/// Baud rate of a serial port when none is given.
const USUAL_BAUD: u32 = 115_200;
/// What a stand-in's address begins with.
const STAND_IN: &str = "stand-in:";

/// Where a device is.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Address {
    /// Host and port.
    Tcp(String, u16),
    /// A serial port and its baud rate.
    Serial(String, u32),
    /// A stand-in that this program runs itself.
    StandIn(String),
}

/// What is wrong with an address.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum AddressError {
    /// It is none.
    #[error("\"{0}\" is no address of a device: write host:port, /dev/name or /dev/name@baud")]
    NotUnderstood(String),
    /// It is not among those allowed.
    #[error(
        "{0} is not among the addresses devices may have here: whoever runs the program adds it to \
         ALLOWED_DEVICES"
    )]
    NotAllowed(String),
    /// The host has no address.
    #[error("there is no host {0}")]
    NoHost(String),
    /// The stand-ins are off.
    #[error("the stand-in {0} is not running here")]
    NoStandIn(String),
}

impl Address {
    /// Reads an address: `192.168.4.20:23`, `/dev/ttyUSB0@250000`.
    ///
    /// # Errors
    /// When it is none.
    pub fn read(text: &str) -> Result<Self, AddressError> {
        let text = text.trim();
        let short: String = text.chars().take(60).collect();
        let none = || AddressError::NotUnderstood(short.clone());
        if text.len() > 200 || text.chars().any(|c| c.is_control() || c.is_whitespace()) {
            return Err(none());
        }
        if let Some(name) = text.strip_prefix(STAND_IN) {
            return Ok(Self::StandIn(name.to_string()));
        }
        if text.starts_with('/') {
            let (path, baud) = match text.split_once('@') {
                Some((path, baud)) => (path, baud.parse().map_err(|_| none())?),
                None => (text, USUAL_BAUD),
            };
            // One file below /dev, and no way out of it.
            let plain = path.starts_with("/dev/") && !path.split('/').any(|part| part == "..");
            return match plain && (300..=4_000_000).contains(&baud) {
                true => Ok(Self::Serial(path.to_string(), baud)),
                false => Err(none()),
            };
        }
        let (host, port) = text.rsplit_once(':').ok_or_else(none)?;
        let port: u16 = port.parse().map_err(|_| none())?;
        let host = host.trim_start_matches('[').trim_end_matches(']');
        let named = !host.is_empty()
            && host
                .chars()
                .all(|c| c.is_ascii_alphanumeric() || ".-:".contains(c));
        match named && port > 0 {
            true => Ok(Self::Tcp(host.to_string(), port)),
            false => Err(none()),
        }
    }
}

impl fmt::Display for Address {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::Tcp(host, port) if host.contains(':') => write!(f, "[{host}]:{port}"),
            Self::Tcp(host, port) => write!(f, "{host}:{port}"),
            Self::Serial(path, USUAL_BAUD) => f.write_str(path),
            Self::Serial(path, baud) => write!(f, "{path}@{baud}"),
            Self::StandIn(name) => write!(f, "{STAND_IN}{name}"),
        }
    }
}

/// Where a line may be opened, after everything was asked.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) enum Place {
    Tcp(SocketAddr),
    Serial(String, u32),
}

/// The addresses devices may have.
#[derive(Debug, Clone, Default)]
pub struct Allowed {
    networks: Vec<IpNet>,
    ports: Vec<String>,
    stand_ins: BTreeMap<String, SocketAddr>,
}

impl Allowed {
    /// Loopback alone.
    pub fn loopback() -> Self {
        Self::default()
    }

    /// Loopback, and what is named: `192.168.4.0/24`, `10.0.0.7`, `/dev/ttyUSB0`.
    ///
    /// # Errors
    /// When something named is neither a network nor a serial port.
    pub fn read<'a>(names: impl IntoIterator<Item = &'a str>) -> Result<Self, AddressError> {
        let mut allowed = Self::default();
        for name in names.into_iter().map(str::trim).filter(|n| !n.is_empty()) {
            let network = name.parse().or_else(|_| name.parse().map(single));
            match (network, Address::read(name)) {
                (Ok(network), _) => allowed.networks.push(network),
                (_, Ok(Address::Serial(path, _))) => allowed.ports.push(path),
                _ => return Err(AddressError::NotUnderstood(name.to_string())),
            }
        }
        Ok(allowed)
    }

    /// A stand-in that answers at an address of this computer.
    pub fn stand_in(&mut self, name: &str, at: SocketAddr) {
        self.stand_ins.insert(name.to_string(), at);
    }

    /// Where a device really is. A name is looked up once, and what it stands for is what is
    /// allowed or not: it cannot become another address later.
    pub(crate) async fn place(&self, address: &Address) -> Result<Place, AddressError> {
        match address {
            Address::StandIn(name) => {
                let found = self.stand_ins.get(name);
                let none = || AddressError::NoStandIn(name.clone());
                found.map(|at| Place::Tcp(*at)).ok_or_else(none)
            }
            Address::Serial(path, baud) if self.ports.contains(path) => {
                Ok(Place::Serial(path.clone(), *baud))
            }
            Address::Serial(..) => Err(AddressError::NotAllowed(address.to_string())),
            Address::Tcp(host, port) => {
                let none = || AddressError::NoHost(host.clone());
                let found = timeout(PATIENCE, lookup_host((host.as_str(), *port))).await;
                let found = found.map_err(|_| none())?.map_err(|_| none())?;
                let mut allowed = found.filter(|at| self.holds(at.ip()));
                let at = allowed.next();
                at.map(Place::Tcp)
                    .ok_or_else(|| AddressError::NotAllowed(address.to_string()))
            }
        }
    }

    fn holds(&self, ip: IpAddr) -> bool {
        let ip = ip.to_canonical();
        ip.is_loopback() || self.networks.iter().any(|n| n.contains(&ip))
    }
}

fn single(ip: IpAddr) -> IpNet {
    IpNet::from(ip)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn an_address_is_a_host_with_a_port_or_a_serial_port() {
        let read = |t: &str| Address::read(t).map(|a| a.to_string());
        for good in [
            "127.0.0.1:7001",
            "printer.local:23",
            "[::1]:80",
            "/dev/ttyUSB0",
        ] {
            assert_eq!(read(good).as_deref(), Ok(good));
        }
        assert_eq!(
            read("/dev/ttyACM1@250000").as_deref(),
            Ok("/dev/ttyACM1@250000")
        );
        for bad in [
            "",
            "printer",
            "1.2.3.4:0",
            "1.2.3.4:99999",
            "/etc/passwd",
            "/dev/../etc/passwd",
            "a b:1",
            "http://x:1/",
            "/dev/ttyUSB0@1",
        ] {
            assert!(read(bad).is_err(), "{bad}");
        }
    }

    #[tokio::test]
    async fn what_is_not_named_is_not_reached() {
        let allowed = Allowed::read(["192.168.4.0/24", "10.0.0.7", "/dev/ttyUSB0"]).unwrap();
        let place = async |t: &str| allowed.place(&Address::read(t).unwrap()).await;
        assert!(place("127.0.0.1:7001").await.is_ok());
        assert!(place("192.168.4.9:23").await.is_ok());
        assert!(place("10.0.0.7:23").await.is_ok());
        assert!(place("/dev/ttyUSB0").await.is_ok());
        for other in [
            "10.0.0.8:23",
            "169.254.169.254:80",
            "/dev/ttyUSB1",
            "[::ffff:10.0.0.8]:1",
        ] {
            let refused = place(other).await;
            assert!(
                matches!(refused, Err(AddressError::NotAllowed(_))),
                "{other}"
            );
        }
        let none = place("stand-in:heron").await;
        assert_eq!(none, Err(AddressError::NoStandIn("heron".into())));
        assert!(Allowed::read(["everything"]).is_err());
    }
}

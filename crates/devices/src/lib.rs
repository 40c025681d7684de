//! Asks machines and measuring tools what they read, over a line of text: a TCP address or a serial
//! port.
//!
//! The adapter *only asks*. What it may say is a closed list ([`Ask`]); there is no way to send
//! anything else, so nothing heats, cools or is set from here. One question moves the machine, the
//! repeat of the probe, and takes a person's yes ([`Yes`]).
//!
//! Nothing a device answers is trusted: lines and their number are bounded, every wait ends.
//!
//! `address` says where devices may be, `line` is the transport, `console` the questions of a
//! machine, `tool` the readings of a power meter or calipers.
#![warn(missing_docs)]

mod address;
mod console;
mod line;
mod tool;

pub use address::{Address, AddressError, Allowed};
pub use console::{Ask, Console, EndSwitch, Heat, Temperatures, Yes, steps_of};
pub use line::{Line, PATIENCE};
pub use tool::{Reading, Tool};

/// Why a device gave no answer.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum DeviceError {
    /// The address makes no sense or is not allowed.
    #[error(transparent)]
    Address(#[from] AddressError),
    /// Nothing listens there.
    #[error("nothing answers at {0}: is it switched on, and is the address right?")]
    NoDevice(String),
    /// It listens and says nothing.
    #[error(
        "{0} took the question and did not answer within {seconds} s",
        seconds = PATIENCE.as_secs()
    )]
    Silent(String),
    /// The line ended within an answer.
    #[error("{0} stopped half-way through its answer")]
    HalfWay(String),
    /// It says more than any device has to say.
    #[error("{0} sends without end: it was cut off")]
    Flood(String),
    /// What it says is no answer to the question.
    #[error("{at} answered \"{said}\", which is no answer to {asked}")]
    Rubbish {
        /// Where.
        at: String,
        /// What it said, cut short.
        said: String,
        /// What was asked.
        asked: &'static str,
    },
    /// The machine is held by a stop: it is read, not moved.
    #[error("a stop holds this machine: it may be read, not moved")]
    Held,
}

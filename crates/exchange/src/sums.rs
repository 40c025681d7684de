//! Sums over bytes, in hexadecimal, as they pass by.

use sha2::{Digest, Sha256};
use std::fmt::Write as _;
use std::io::{Read, Result, Write};

/// The sum over some bytes.
pub(crate) fn of(bytes: &[u8]) -> [u8; 32] {
    Sha256::digest(bytes).into()
}

fn hex(sum: &[u8]) -> String {
    let mut text = String::with_capacity(2 * sum.len());
    for byte in sum {
        let _ = write!(text, "{byte:02x}");
    }
    text
}

/// Passes bytes on and sums them up.
pub(crate) struct Summed<T> {
    inner: T,
    sum: Sha256,
    bytes: u64,
}

impl<T> Summed<T> {
    pub fn new(inner: T) -> Self {
        Self {
            inner,
            sum: Sha256::new(),
            bytes: 0,
        }
    }

    /// The sum so far, in hexadecimal, and how many bytes.
    pub fn end(self) -> (String, u64) {
        (hex(&self.sum.finalize()), self.bytes)
    }
}

impl<T: Write> Write for Summed<T> {
    fn write(&mut self, bytes: &[u8]) -> Result<usize> {
        let written = self.inner.write(bytes)?;
        self.sum.update(&bytes[..written]);
        self.bytes += written as u64;
        Ok(written)
    }

    fn flush(&mut self) -> Result<()> {
        self.inner.flush()
    }
}

impl<T: Read> Read for Summed<T> {
    fn read(&mut self, bytes: &mut [u8]) -> Result<usize> {
        let read = self.inner.read(bytes)?;
        self.sum.update(&bytes[..read]);
        self.bytes += read as u64;
        Ok(read)
    }
}

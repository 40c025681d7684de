//! The transport: lines of text out, lines of text in, each bounded in length, number and time.

use crate::address::Place;
use crate::{Address, Allowed, DeviceError};
use std::time::Duration;
use tokio::io::{AsyncRead, AsyncReadExt, AsyncWrite, AsyncWriteExt};
use tokio::net::TcpStream;
use tokio::time::timeout;
use tokio_serial::SerialPortBuilderExt;

/// How long a line is waited for.
pub const PATIENCE: Duration = Duration::from_secs(4);
/// Longest line that is read, in bytes: a report of settings has lines of a hundred.
const LONGEST_LINE: usize = 512;

trait Stream: AsyncRead + AsyncWrite + Send + Unpin {}
impl<T: AsyncRead + AsyncWrite + Send + Unpin> Stream for T {}

/// A line to a device.
pub struct Line {
    stream: Box<dyn Stream>,
    at: String,
    /// What came and was not read yet.
    held: Vec<u8>,
    patience: Duration,
}

impl Line {
    /// Opens a line to an address that is allowed.
    ///
    /// # Errors
    /// When it is not, or nothing answers there.
    pub async fn open(address: &Address, allowed: &Allowed) -> Result<Self, DeviceError> {
        let at = address.to_string();
        let none = || DeviceError::NoDevice(at.clone());
        let place = allowed.place(address).await?;
        let stream: Box<dyn Stream> = match place {
            Place::Tcp(to) => {
                let opened = timeout(PATIENCE, TcpStream::connect(to)).await;
                Box::new(opened.map_err(|_| none())?.map_err(|_| none())?)
            }
            Place::Serial(path, baud) => {
                let opened = tokio_serial::new(path, baud).open_native_async();
                Box::new(opened.map_err(|_| none())?)
            }
        };
        Ok(Self::over(stream, &at))
    }

    /// A line over a stream that is open already: a pseudo-terminal.
    pub fn over(stream: impl AsyncRead + AsyncWrite + Send + Unpin + 'static, at: &str) -> Self {
        Self {
            stream: Box::new(stream),
            at: at.to_string(),
            held: Vec::new(),
            patience: PATIENCE,
        }
    }

    /// The same with another patience.
    #[must_use]
    pub fn with_patience(self, patience: Duration) -> Self {
        Self { patience, ..self }
    }

    /// Where it leads.
    pub fn at(&self) -> &str {
        &self.at
    }

    /// Writes a line.
    ///
    /// # Errors
    /// When the line is broken.
    pub(crate) async fn write(&mut self, text: &str) -> Result<(), DeviceError> {
        let bytes = format!("{text}\n");
        let written = timeout(self.patience, self.stream.write_all(bytes.as_bytes())).await;
        match written {
            Ok(Ok(())) => Ok(()),
            _ => Err(DeviceError::HalfWay(self.at.clone())),
        }
    }

    /// Reads the next line that is not empty, without its end.
    ///
    /// # Errors
    /// When none comes in time, the line ends, or is longer than any line has to be.
    pub async fn read(&mut self) -> Result<String, DeviceError> {
        let patience = self.patience;
        let next = timeout(patience, self.next()).await;
        next.unwrap_or_else(|_| Err(DeviceError::Silent(self.at.clone())))
    }

    async fn next(&mut self) -> Result<String, DeviceError> {
        loop {
            if let Some(end) = self.held.iter().position(|b| matches!(b, b'\n' | b'\r')) {
                let line: Vec<u8> = self.held.drain(..=end).collect();
                let text = String::from_utf8_lossy(&line).trim().to_string();
                if text.is_empty() {
                    continue;
                }
                return Ok(text);
            }
            if self.held.len() > LONGEST_LINE {
                return Err(DeviceError::Flood(self.at.clone()));
            }
            let mut block = [0; 256];
            match self.stream.read(&mut block).await {
                Ok(0) | Err(_) => return Err(DeviceError::HalfWay(self.at.clone())),
                Ok(many) => self.held.extend_from_slice(&block[..many]),
            }
        }
    }
}

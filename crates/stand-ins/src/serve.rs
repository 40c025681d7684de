//! A simulated device behind a TCP port, or any other stream.

use crate::{Device, Said};
use std::io;
use std::sync::Arc;
use std::time::Duration;
use tokio::io::{AsyncBufReadExt, AsyncRead, AsyncWrite, AsyncWriteExt, BufReader, split};
use tokio::net::TcpListener;
use tokio::sync::Mutex;
use tokio::time::{Instant, sleep};

/// Longest line it takes, in bytes.
const LONGEST: usize = 256;
/// How often a device that floods says it before it looks whether anybody is still there.
const BURST: usize = 64;

/// A device that several lines may reach, and when it was last reached.
type Shared = Arc<Mutex<(Box<dyn Device>, Instant)>>;

fn shared(device: Box<dyn Device>) -> Shared {
    Arc::new(Mutex::new((device, Instant::now())))
}

/// Answers whoever comes, until the task is ended.
///
/// # Errors
/// When nobody can come any more.
pub async fn serve(listener: TcpListener, device: Box<dyn Device>) -> io::Result<()> {
    let device = shared(device);
    loop {
        let (stream, _) = listener.accept().await?;
        let device = device.clone();
        // A line that breaks is the end of that line, and of nothing else.
        tokio::spawn(async move { talk(stream, device).await });
    }
}

/// Speaks over one stream until it ends.
///
/// # Errors
/// When it breaks.
pub async fn speak(
    stream: impl AsyncRead + AsyncWrite + Send + 'static,
    device: Box<dyn Device>,
) -> io::Result<()> {
    talk(stream, shared(device)).await
}

async fn talk(stream: impl AsyncRead + AsyncWrite, device: Shared) -> io::Result<()> {
    let (read, mut write) = split(stream);
    let mut read = BufReader::with_capacity(LONGEST, read);
    let mut line = Vec::new();
    loop {
        let alone = device.lock().await.0.by_itself();
        let said = match alone {
            Some((every, said)) => {
                sleep(Duration::from_secs_f64(every)).await;
                said
            }
            None => {
                line.clear();
                if read.read_until(b'\n', &mut line).await? == 0 || line.len() > LONGEST {
                    return Ok(());
                }
                let mut device = device.lock().await;
                let now = Instant::now();
                let passed = now.duration_since(device.1).as_secs_f64();
                device.1 = now;
                device.0.pass(passed);
                device.0.answer(String::from_utf8_lossy(&line).trim())
            }
        };
        if !say(&mut write, said).await? {
            return Ok(());
        }
    }
}

/// Says it; false when that was the last word.
async fn say(write: &mut (impl AsyncWrite + Unpin), said: Said) -> io::Result<bool> {
    match said {
        Said::Nothing => {}
        Said::Lines(lines) => {
            let text: String = lines.iter().map(|l| format!("{l}\n")).collect();
            write.write_all(text.as_bytes()).await?;
        }
        Said::Broken(text) => {
            write.write_all(text.as_bytes()).await?;
            write.shutdown().await?;
            return Ok(false);
        }
        Said::Endless(text) => loop {
            let text = format!("{text}\n").repeat(BURST);
            write.write_all(text.as_bytes()).await?;
        },
    }
    write.flush().await?;
    Ok(true)
}

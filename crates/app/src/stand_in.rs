//! `usual-suspect stand-in`: a simulated device on a port of this computer, and those of the demo.

use anyhow::{Context, Result, anyhow};
use clap::Args;
use std::process::ExitCode;
use suspect_devices::Allowed;
use suspect_stand_ins::{FAULTS, device, serve};
use tokio::net::TcpListener;

#[derive(Args)]
pub struct Options {
    /// What it stands in for: printer, power-meter or caliper.
    kind: String,
    /// How it misbehaves; `list` prints what there is.
    #[arg(long, default_value = "none")]
    fault: String,
    /// The same seed does the same.
    #[arg(long, default_value_t = 1)]
    seed: u64,
    /// Port on this computer; 0 takes a free one.
    #[arg(long, default_value_t = 0)]
    port: u16,
}

/// Stands in until it is ended.
pub async fn run(options: &Options) -> Result<ExitCode> {
    if options.fault == "list" {
        let of = FAULTS
            .iter()
            .filter(|(_, _, kinds)| kinds.contains(&options.kind.as_str()));
        let names: String = of.map(|(name, ..)| format!("{name}\n")).collect();
        crate::print_out(&names)?;
        return Ok(ExitCode::SUCCESS);
    }
    let device = device(&options.kind, &options.fault, options.seed).map_err(|e| anyhow!(e))?;
    let listener = TcpListener::bind(("127.0.0.1", options.port)).await;
    let listener = listener
        .with_context(|| format!("cannot listen on port {}; choose another", options.port))?;
    let at = listener.local_addr()?;
    crate::print_out(&format!("{} stands in at {at}\n", options.kind))?;
    tokio::select! {
        ended = serve(listener, device) => ended?,
        _ = tokio::signal::ctrl_c() => {}
    }
    Ok(ExitCode::SUCCESS)
}

/// Starts the demo's stand-ins on free ports of this computer, and lets them be reached.
pub async fn of_the_demo(allowed: &mut Allowed) -> Result<()> {
    for (seed, (name, reached, fault)) in (1..).zip(crate::demo::stand_ins()?) {
        let kind = match reached.as_str() {
            "console" => "printer",
            "calipers" => "caliper",
            other => other,
        };
        let device = device(kind, &fault, seed).map_err(|e| anyhow!(e))?;
        let listener = TcpListener::bind("127.0.0.1:0").await?;
        allowed.stand_in(&name, listener.local_addr()?);
        tokio::spawn(serve(listener, device));
    }
    Ok(())
}

//! Spools and spare parts of the demo.

use super::scenario::{DemoSpool, DemoStock, Scenario};
use super::{id, stamp};
use anyhow::{Context, Result, bail};
use std::collections::BTreeMap;
use suspect_core::knowledge::Knowledge;
use suspect_core::shelf::{Shelved, Spool, SpoolEvent, Stock, StockEvent};
use suspect_store::{Store, Uuid};
use time::format_description::well_known::Rfc3339;
use time::macros::datetime;
use time::{Duration, OffsetDateTime};

const BEGUN: OffsetDateTime = datetime!(2025-11-24 10:00 UTC);

/// Puts spools and spare parts on the shelf.
pub async fn load(
    store: &Store,
    knowledge: &Knowledge,
    scenario: &Scenario,
    machines: &BTreeMap<String, Uuid>,
) -> Result<()> {
    for (spool, n) in scenario.spool.iter().zip(0u64..) {
        let told = events(spool, machines, n).with_context(|| spool.colour.clone())?;
        write::<Spool>(store, knowledge, 80_000 + 50 * n, &told).await?;
    }
    for (stock, n) in scenario.stock.iter().zip(0u64..) {
        write::<Stock>(store, knowledge, 90_000 + 50 * n, &in_stock(stock, n)).await?;
    }
    Ok(())
}

async fn write<T: Shelved>(
    store: &Store,
    knowledge: &Knowledge,
    salt: u64,
    told: &[(OffsetDateTime, T::Event)],
) -> Result<()> {
    let thing = id(BEGUN, salt);
    for ((at, event), n) in told.iter().zip(0u32..) {
        let stamp = stamp(*at, salt, salt + 1 + u64::from(n));
        let events = [event.clone()];
        store
            .append_to_thing::<T>(knowledge, thing, n, &events, stamp)
            .await?;
    }
    Ok(())
}

fn in_stock(stock: &DemoStock, n: u64) -> Vec<(OffsetDateTime, StockEvent)> {
    let at = BEGUN + Duration::minutes(n as i64);
    let described = StockEvent::Described {
        name: stock.name.clone(),
        part: stock.part.clone(),
        fits: stock.fits.clone(),
        reorder_at: stock.reorder_at,
        money: stock.money,
    };
    let came = StockEvent::Came {
        pieces: stock.pieces,
    };
    vec![(at, described), (at + Duration::minutes(1), came)]
}

/// "2026-03-02T10:00:00Z opened", "… dried 65 6", "… weighed 612", "… used 40 Pump guard",
/// "… put Heron", "… kept box", "… finished".
fn events(
    spool: &DemoSpool,
    machines: &BTreeMap<String, Uuid>,
    n: u64,
) -> Result<Vec<(OffsetDateTime, SpoolEvent)>> {
    let described = SpoolEvent::Described {
        family: spool.family.clone(),
        maker: spool.maker.clone(),
        colour: spool.colour.clone(),
        net_g: spool.net_g,
        tare_g: spool.tare_g,
    };
    let mut told = vec![(BEGUN + Duration::minutes(n as i64), described)];
    for line in &spool.log {
        let mut words = line.splitn(4, ' ');
        let at = OffsetDateTime::parse(words.next().unwrap_or(""), &Rfc3339)?;
        let say = words.next().unwrap_or("");
        let mut next = || words.next().unwrap_or("");
        told.push((
            at,
            match say {
                "opened" => SpoolEvent::Opened,
                "dried" => SpoolEvent::Dried {
                    celsius: next().parse()?,
                    hours: next().parse()?,
                },
                "weighed" => SpoolEvent::Weighed {
                    gross_g: next().parse()?,
                },
                "used" => SpoolEvent::Used {
                    grams: next().parse()?,
                    of: next().into(),
                },
                "put" => SpoolEvent::Put {
                    machine: machines.get(next()).context("no such machine")?.to_string(),
                },
                "kept" => SpoolEvent::Kept { how: next().into() },
                "finished" => SpoolEvent::Finished,
                other => bail!("nothing called \"{other}\" happens to a spool"),
            },
        ));
    }
    Ok(told)
}

//! Filament and parts used up by what is written elsewhere, in the same transaction.

use crate::StoreError;
use crate::entity::{machine, shelf};
use crate::shelf::{append_within, thing};
use crate::stamp::Stamp;
use sea_orm::{
    ColumnTrait, DatabaseTransaction, EntityTrait, QueryFilter, QueryOrder, QuerySelect,
};
use suspect_core::case::Event;
use suspect_core::knowledge::Knowledge;
use suspect_core::machine::MachineEvent;
use suspect_core::shelf::{
    Shelved, Spool, SpoolEvent, Stock, StockEvent, grams_used, parts_used, spool_number,
};
use uuid::Uuid;

/// Prints of a case take filament from the spool it names. A spool that is used up, or unknown,
/// takes no notice: the case stands all the same.
pub(crate) async fn filament(
    transaction: &DatabaseTransaction,
    knowledge: &Knowledge,
    (spool, case): (&str, i64),
    events: &[Event],
    stamp: &Stamp,
) -> Result<(), StoreError> {
    let (grams, number) = (grams_used(events), spool_number(spool));
    let Some(number) = number.filter(|_| grams > 0.0) else {
        return Ok(());
    };
    let row = shelf::Entity::find()
        .filter(shelf::Column::Kind.eq(Spool::KIND))
        .filter(shelf::Column::Number.eq(number))
        .lock_exclusive()
        .one(transaction)
        .await?;
    let Some(row) = row else { return Ok(()) };
    let used = SpoolEvent::Used {
        grams,
        of: format!("C-{case:03}"),
    };
    let spool = thing::<Spool>(transaction, row.clone()).await?;
    match spool.is.accept(knowledge, &used, false) {
        Ok(()) => append_within::<Spool>(transaction, knowledge, row, &[used], stamp).await,
        Err(_) => Ok(()),
    }
}

/// Parts fitted new to a machine come off the stock that suits it; what was taken back comes back.
pub(crate) async fn parts(
    transaction: &DatabaseTransaction,
    knowledge: &Knowledge,
    machine: Uuid,
    events: &[MachineEvent],
    stamp: &Stamp,
) -> Result<(), StoreError> {
    for event in events {
        let (used, back) = parts_used(event);
        for part in used {
            one(transaction, knowledge, (machine, part.id), back, stamp).await?;
        }
    }
    Ok(())
}

/// One part off the first stock that suits the machine and holds any.
async fn one(
    transaction: &DatabaseTransaction,
    knowledge: &Knowledge,
    (machine, part): (Uuid, &str),
    back: bool,
    stamp: &Stamp,
) -> Result<(), StoreError> {
    let of = machine::Entity::find_by_id(machine)
        .one(transaction)
        .await?;
    let Some(of) = of else { return Ok(()) };
    let rows = shelf::Entity::find()
        .filter(shelf::Column::Kind.eq(Stock::KIND))
        .order_by_asc(shelf::Column::Number)
        .lock_exclusive()
        .all(transaction)
        .await?;
    for row in rows {
        let stock = thing::<Stock>(transaction, row.clone()).await?.is;
        let suits = stock.part == part && stock.suits(&of.model);
        if !suits || (stock.pieces == 0 && !back) {
            continue;
        }
        let event = match back {
            true => StockEvent::Came { pieces: 1 },
            false => StockEvent::Used {
                pieces: 1,
                of: of.name.clone(),
            },
        };
        return append_within::<Stock>(transaction, knowledge, row, &[event], stamp).await;
    }
    Ok(())
}

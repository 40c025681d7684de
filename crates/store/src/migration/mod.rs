//! Steps of the database's shape. A step is never edited once shipped.

mod m20261123_000001_cases;
mod m20261124_000002_intake;
mod m20261125_000003_workshop;
mod m20261127_000004_firm_ground;
mod m20261128_000005_floor;
mod m20261129_000006_own_words;
mod m20261201_000007_print_files;
mod m20261202_000008_lessons;
mod m20261203_000009_figures;
mod m20261204_000010_series;
mod m20261205_000011_books;
mod m20261206_000012_people;
mod m20261207_000013_links;
mod m20261208_000014_stations;
mod m20261209_000015_practice;

use sea_orm_migration::prelude::*;

/// All steps in order.
pub struct Migrator;

#[async_trait::async_trait]
impl MigratorTrait for Migrator {
    fn migrations() -> Vec<Box<dyn MigrationTrait>> {
        vec![
            Box::new(m20261123_000001_cases::Migration),
            Box::new(m20261124_000002_intake::Migration),
            Box::new(m20261125_000003_workshop::Migration),
            Box::new(m20261127_000004_firm_ground::Migration),
            Box::new(m20261128_000005_floor::Migration),
            Box::new(m20261129_000006_own_words::Migration),
            Box::new(m20261201_000007_print_files::Migration),
            Box::new(m20261202_000008_lessons::Migration),
            Box::new(m20261203_000009_figures::Migration),
            Box::new(m20261204_000010_series::Migration),
            Box::new(m20261205_000011_books::Migration),
            Box::new(m20261206_000012_people::Migration),
            Box::new(m20261207_000013_links::Migration),
            Box::new(m20261208_000014_stations::Migration),
            Box::new(m20261209_000015_practice::Migration),
        ]
    }
}

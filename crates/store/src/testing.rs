//! A database of its own for each test, on the server named by `TEST_DATABASE_URL`.

use crate::Store;
use sea_orm::{ConnectionTrait, Database, DatabaseConnection, DbBackend, Statement};
use uuid::Uuid;

/// A fresh, migrated database. Dropped with [`Fresh::remove`]; the throw-away server forgets it in
/// any case.
#[derive(Debug)]
pub struct Fresh {
    /// The store over it.
    pub store: Store,
    /// Its address, for processes of their own.
    pub url: String,
    name: String,
    server: DatabaseConnection,
}

/// Makes a database and migrates it.
///
/// # Panics
/// When `TEST_DATABASE_URL` is not set (run `./test`) or the server refuses.
pub async fn fresh() -> Fresh {
    let empty = empty().await;
    empty.store.migrate().await.expect("the migrations run");
    empty
}

/// Makes a database as an earlier version left it, from the statements of a dump.
///
/// # Panics
/// As [`fresh`], or when a statement fails.
pub async fn restored(dump: &str) -> Fresh {
    let empty = empty().await;
    // A dump changes settings of its connection, so it gets one of its own.
    let other = Database::connect(&empty.url).await.expect("it answers");
    let done = other.execute_unprepared(dump).await;
    done.expect("the dump is restored");
    other.close().await.expect("it closes");
    empty
}

/// Makes a database without any table.
async fn empty() -> Fresh {
    let server_url = std::env::var("TEST_DATABASE_URL")
        .expect("TEST_DATABASE_URL is not set: run ./test, which starts a throw-away PostgreSQL");
    let server = Database::connect(&server_url)
        .await
        .expect("the throw-away PostgreSQL answers");
    let name = format!("t{}", Uuid::now_v7().simple());
    server
        .execute_unprepared(&format!("CREATE DATABASE {name}"))
        .await
        .expect("a database can be made");
    let (start, _) = server_url
        .rsplit_once('/')
        .expect("the address ends in a database name");
    let url = format!("{start}/{name}");
    let store = Store::connect(&url)
        .await
        .expect("the new database answers");
    Fresh {
        store,
        url,
        name,
        server,
    }
}

impl Fresh {
    /// A digest of every row of every table whose name is not like this, by table.
    ///
    /// # Panics
    /// When the database cannot be reached.
    pub async fn every_row_but(&self, names: &str) -> Vec<(String, String)> {
        const TABLES: &str = "SELECT table_name::text FROM information_schema.tables
            WHERE table_schema = 'public' AND table_name NOT LIKE $1 ORDER BY 1";
        let tables = Statement::from_sql_and_values(DbBackend::Postgres, TABLES, [names.into()]);
        let tables = self.store.db.query_all_raw(tables).await.expect("tables");
        let mut digests = Vec::new();
        for row in tables {
            let table: String = row.try_get_by_index(0).expect("a name");
            let all = format!(
                "SELECT coalesce(md5(string_agg(t::text, ';' ORDER BY t::text)), '')
                    FROM \"{table}\" t"
            );
            let all = Statement::from_string(DbBackend::Postgres, all);
            let row = self.store.db.query_one_raw(all).await.expect("rows");
            let digest = row.expect("one row").try_get_by_index(0).expect("a digest");
            digests.push((table, digest));
        }
        digests
    }

    /// Does something to the database that the store itself never does.
    ///
    /// # Panics
    /// When the server refuses.
    pub async fn force(&self, sql: &str) {
        let done = self.store.db.execute_unprepared(sql).await;
        done.expect("the server obeys");
    }

    /// Closes and drops the database.
    pub async fn remove(self) {
        self.store.close().await;
        let _ = self
            .server
            .execute_unprepared(&format!("DROP DATABASE {} WITH (FORCE)", self.name))
            .await;
    }
}

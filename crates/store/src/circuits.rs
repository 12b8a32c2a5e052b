//! Circuits as documents.

use cimento_model::circuit::CircuitDoc;
use diesel::prelude::*;

use crate::database::Store;
use crate::error::StoreError;
use crate::schema::{circuits, kept_versions};

/// A circuit is kept as it was before a change when this long has passed since the change before, in
/// seconds: what is typed in one go is one version.
const PAUSE_S: i64 = 300;

/// A circuit as it stands in a list.
#[derive(Debug, Clone, Queryable)]
pub struct CircuitLine {
    pub id: i32,
    pub title: String,
    /// When it was last changed.
    pub updated_at: i64,
    /// When it was put away.
    pub retired_at: Option<i64>,
}

/// A stored circuit.
#[derive(Debug, Clone)]
pub struct CircuitRow {
    pub id: i32,
    pub title: String,
    pub document: CircuitDoc,
    pub updated_at: i64,
    /// Counts its changes, from 1.
    pub version: i32,
}

impl Store {
    /// Stores a circuit and gives its number.
    ///
    /// # Errors
    /// When the database fails.
    pub fn add_circuit(&self, document: &CircuitDoc, now: i64) -> Result<i32, StoreError> {
        let mut db = self.writing()?;
        Ok(diesel::insert_into(circuits::table)
            .values((
                circuits::title.eq(&document.title),
                circuits::document.eq(serde_json::to_string(document)?),
                circuits::updated_at.eq(now),
            ))
            .returning(circuits::id)
            .get_result(&mut db)?)
    }

    /// All circuits, by title; those put away among them.
    ///
    /// # Errors
    /// When the database fails.
    pub fn circuits(&self) -> Result<Vec<CircuitLine>, StoreError> {
        let mut db = self.connection()?;
        Ok(circuits::table
            .order(circuits::title)
            .select((
                circuits::id,
                circuits::title,
                circuits::updated_at,
                circuits::retired_at,
            ))
            .load(&mut db)?)
    }

    /// Puts a circuit away, or back among the others. Its lessons hold a circuit of their own and stay.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is none with the number.
    pub fn file_circuit(&self, id: i32, retired_at: Option<i64>) -> Result<(), StoreError> {
        let filed = diesel::update(circuits::table.find(id))
            .set(circuits::retired_at.eq(retired_at))
            .execute(&mut *self.writing()?)?;
        if filed == 0 { Err(missing(id)) } else { Ok(()) }
    }

    /// Deletes a circuit that was put away, and its kept versions with it.
    ///
    /// # Errors
    /// [`StoreError::NotFound`], and [`StoreError::NotPutAway`] for one that stands among the others.
    pub fn delete_circuit(&self, id: i32) -> Result<(), StoreError> {
        let mut db = self.writing()?;
        let of_it = circuits::table.find(id);
        let gone = diesel::delete(of_it.filter(circuits::retired_at.is_not_null()));
        if gone.execute(&mut db)? == 1 {
            return Ok(());
        }
        let there: Option<i32> = of_it.select(circuits::id).first(&mut db).optional()?;
        Err(there.map_or_else(|| missing(id), |_| StoreError::NotPutAway))
    }

    /// One circuit.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is none with the number.
    pub fn circuit(&self, id: i32) -> Result<CircuitRow, StoreError> {
        let mut db = self.connection()?;
        let row: Option<(String, String, i64, i32)> = circuits::table
            .find(id)
            .select((
                circuits::title,
                circuits::document,
                circuits::updated_at,
                circuits::version,
            ))
            .first(&mut db)
            .optional()?;
        let (title, document, updated_at, version) = row.ok_or_else(|| missing(id))?;
        Ok(CircuitRow {
            id,
            title,
            document: serde_json::from_str(&document)?,
            updated_at,
            version,
        })
    }

    /// Stores a changed circuit and gives its new version. When this returns, it is on disk.
    ///
    /// # Errors
    /// [`StoreError::ChangedElsewhere`] when it is no longer at the version that was changed; nothing
    /// is stored then.
    pub fn change_circuit(
        &self,
        id: i32,
        document: &CircuitDoc,
        version: i32,
        now: i64,
    ) -> Result<i32, StoreError> {
        let text = serde_json::to_string(document)?;
        let mut db = self.writing()?;
        db.immediate_transaction(|db| {
            let now_there: Option<(i32, String, i64)> = circuits::table
                .find(id)
                .select((circuits::version, circuits::document, circuits::updated_at))
                .first(db)
                .optional()?;
            let (have, before, changed_at) = now_there.ok_or(StoreError::NotFound {
                what: "circuit",
                id: id.to_string(),
            })?;
            if have != version {
                return Err(StoreError::ChangedElsewhere { have, version });
            }
            if now - changed_at >= PAUSE_S {
                diesel::insert_into(kept_versions::table)
                    .values((
                        kept_versions::circuit_id.eq(id),
                        kept_versions::version.eq(have),
                        kept_versions::document.eq(before),
                        kept_versions::changed_at.eq(changed_at),
                    ))
                    .execute(db)?;
            }
            diesel::update(circuits::table.find(id))
                .set((
                    circuits::title.eq(&document.title),
                    circuits::document.eq(&text),
                    circuits::updated_at.eq(now),
                    circuits::version.eq(version + 1),
                ))
                .execute(db)?;
            Ok(version + 1)
        })
    }

    /// The versions of a circuit that were kept, newest first, with the time each was last changed.
    ///
    /// # Errors
    /// When the database fails.
    pub fn kept_versions(&self, id: i32) -> Result<Vec<(i32, i64)>, StoreError> {
        let mut db = self.connection()?;
        Ok(kept_versions::table
            .filter(kept_versions::circuit_id.eq(id))
            .order(kept_versions::version.desc())
            .select((kept_versions::version, kept_versions::changed_at))
            .load(&mut db)?)
    }

    /// A circuit as it was at a version that was kept.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when that version was not kept.
    pub fn kept_version(&self, id: i32, version: i32) -> Result<CircuitDoc, StoreError> {
        let mut db = self.connection()?;
        let text: Option<String> = kept_versions::table
            .find((id, version))
            .select(kept_versions::document)
            .first(&mut db)
            .optional()?;
        let text = text.ok_or(StoreError::NotFound {
            what: "version",
            id: version.to_string(),
        })?;
        Ok(serde_json::from_str(&text)?)
    }
}

fn missing(id: i32) -> StoreError {
    StoreError::NotFound {
        what: "circuit",
        id: id.to_string(),
    }
}

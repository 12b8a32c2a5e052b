//! What is somebody's own: their work is erased for good, or after its time; two records of one person become one;
//! and a link lets them set a password. Erasing is the one exception from steps that are never deleted.

use diesel::prelude::*;
use diesel::sql_query;
use diesel::sql_types::{BigInt, Integer, Text};
use rand::RngCore;

use crate::database::Store;
use crate::error::StoreError;
use crate::people::{digest, hashed, one};
use crate::roles::Role;
use crate::schema::{reset_links, school, sign_ins, users};
use crate::school::one_school;

/// How long a link to set a password lasts, in seconds: three days.
const LINK_LASTS: i64 = 3 * 24 * 3600;

/// When work is erased, and what stays of it.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct Retention {
    /// Months after which work is erased, from when it was last gone on with; never when absent.
    pub months: Option<i32>,
    /// Erased work leaves its marks behind, without a name.
    pub keeps_figures: bool,
}

/// Erases attempts with all that hangs on them.
fn erase_attempts(
    db: &mut SqliteConnection,
    which: &str,
    keeps_figures: bool,
) -> Result<usize, StoreError> {
    sql_query(format!(
        "INSERT INTO erasing (attempt_id) SELECT a.id FROM attempts a WHERE {which}"
    ))
    .execute(db)?;
    if keeps_figures {
        // What an instructor gave counts in the place of what was computed; the last word on a line is its.
        sql_query(
            "INSERT INTO figures (assignment_id, total)
             SELECT a.assignment_id, min(100, max(0, h.computed + coalesce((
                 SELECT sum(g.marks - l.value ->> '$.marks')
                 FROM given_marks g, json_each(h.sheet, '$.lines') l
                 WHERE g.attempt_id = a.id AND g.marks IS NOT NULL
                   AND l.value ->> '$.criterion' = g.criterion
                   AND g.id = (SELECT max(id) FROM given_marks
                               WHERE attempt_id = a.id AND criterion = g.criterion)), 0)))
             FROM erasing e JOIN attempts a ON a.id = e.attempt_id
             JOIN sheets h ON h.attempt_id = a.id AND h.stands
             WHERE a.assignment_id IS NOT NULL",
        )
        .execute(db)?;
    }
    for table in ["steps", "sheets", "given_marks", "second_looks"] {
        sql_query(format!(
            "DELETE FROM {table} WHERE attempt_id IN (SELECT attempt_id FROM erasing)"
        ))
        .execute(db)?;
    }
    let erased = sql_query("DELETE FROM attempts WHERE id IN (SELECT attempt_id FROM erasing)")
        .execute(db)?;
    sql_query("DELETE FROM erasing").execute(db)?;
    Ok(erased)
}

impl Store {
    /// Erases a student with all their work, for good; what the list of who did what says of them is said of nobody.
    /// Gives how many attempts went.
    ///
    /// # Errors
    /// [`StoreError::NotFound`], or [`StoreError::NotAStudent`]: lessons and marks stand in the names of others.
    pub fn erase_person(&self, id: i32, keeps_figures: bool) -> Result<usize, StoreError> {
        let mut db = self.writing()?;
        let erased = db.immediate_transaction(|db| {
            let person = one(db, id)?;
            if person.roles != Role::Student.into() {
                return Err(StoreError::NotAStudent);
            }
            let erased = erase_attempts(db, &format!("a.student_id = {id}"), keeps_figures)?;
            sql_query("UPDATE audit SET whom = 'somebody erased' WHERE whom = ?1")
                .bind::<Text, _>(&person.name)
                .execute(db)?;
            sql_query("UPDATE audit SET actor = 'somebody erased' WHERE actor = ?1")
                .bind::<Text, _>(&person.name)
                .execute(db)?;
            diesel::delete(users::table.find(id)).execute(db)?;
            Ok(erased)
        })?;
        drop(db);
        // Nothing of it stays behind in the log of what was written.
        self.checkpoint()?;
        Ok(erased)
    }

    /// Erases work that was last gone on with before a time. Gives how many attempts went.
    ///
    /// # Errors
    /// When the database fails.
    pub fn erase_older(&self, before: i64, keeps_figures: bool) -> Result<usize, StoreError> {
        let last = format!(
            "coalesce((SELECT max(at) FROM steps WHERE attempt_id = a.id), a.given_at) < {before}"
        );
        let mut db = self.writing()?;
        let erased = db.immediate_transaction(|db| erase_attempts(db, &last, keeps_figures))?;
        drop(db);
        if erased > 0 {
            self.checkpoint()?;
        }
        Ok(erased)
    }

    /// When work is erased.
    ///
    /// # Errors
    /// When the database fails.
    pub fn retention(&self) -> Result<Retention, StoreError> {
        let columns = school::table.select((school::kept_months, school::keeps_figures));
        let kept: Option<(Option<i32>, bool)> =
            columns.first(&mut self.connection()?).optional()?;
        let (months, keeps_figures) = kept.unwrap_or_default();
        Ok(Retention {
            months,
            keeps_figures,
        })
    }

    /// Erases work after another time from now on.
    ///
    /// # Errors
    /// When the database fails.
    pub fn set_retention(&self, to: Retention) -> Result<(), StoreError> {
        let mut db = self.writing()?;
        one_school(&mut db)?;
        diesel::update(school::table)
            .set((
                school::kept_months.eq(to.months),
                school::keeps_figures.eq(to.keeps_figures),
            ))
            .execute(&mut db)?;
        Ok(())
    }

    /// Two records of one student become one: work, classes and what was said to the one are the other's from then on,
    /// and the one is gone. At an assignment that both had, the one's attempts follow the other's.
    ///
    /// # Errors
    /// [`StoreError::NotFound`], or [`StoreError::NotAStudent`].
    pub fn merge_people(&self, from: i32, into: i32) -> Result<(), StoreError> {
        let mut db = self.writing()?;
        db.immediate_transaction(|db| {
            for id in [from, into] {
                if one(db, id)?.roles != Role::Student.into() {
                    return Err(StoreError::NotAStudent);
                }
            }
            if from == into {
                return Err(StoreError::NotAStudent);
            }
            let source: Option<String> = users::table.find(from).select(users::source).first(db)?;
            for change in [
                // From the highest down, so that no number is there twice on the way.
                "UPDATE attempts SET student_id = ?2, no = no + coalesce((
                     SELECT max(b.no) FROM attempts b
                     WHERE b.student_id = ?2 AND b.assignment_id = attempts.assignment_id), 0)
                 WHERE student_id = ?1 AND assignment_id IS NOT NULL",
                "UPDATE attempts SET student_id = ?2 WHERE student_id = ?1",
                "UPDATE OR IGNORE assigned SET user_id = ?2 WHERE user_id = ?1",
                "UPDATE OR IGNORE members SET user_id = ?2 WHERE user_id = ?1",
                "UPDATE OR IGNORE grouped SET user_id = ?2 WHERE user_id = ?1",
                "UPDATE OR IGNORE seats SET user_id = ?2 WHERE user_id = ?1",
                "UPDATE OR IGNORE vote_answers SET user_id = ?2 WHERE user_id = ?1",
                "UPDATE OR IGNORE sketches SET user_id = ?2 WHERE user_id = ?1",
                "UPDATE words SET student_id = ?2 WHERE student_id = ?1",
                "DELETE FROM users WHERE id = ?1 AND ?2 <> ?1",
            ] {
                sql_query(change)
                    .bind::<Integer, _>(from)
                    .bind::<Integer, _>(into)
                    .execute(db)?;
            }
            // The school's records know the other by what they knew the one by.
            let unknown = users::table.filter(users::id.eq(into));
            diesel::update(unknown.filter(users::source.is_null()))
                .set(users::source.eq(source))
                .execute(db)?;
            Ok(())
        })
    }

    /// A token by which somebody sets a new password, once. Earlier ones hold no more.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub fn reset_link(&self, id: i32, now: i64) -> Result<String, StoreError> {
        let mut bytes = [0u8; 24];
        rand::rng().fill_bytes(&mut bytes);
        let token: String = bytes.iter().map(|b| format!("{b:02x}")).collect();
        let mut db = self.writing()?;
        db.immediate_transaction(|db| {
            one(db, id)?;
            diesel::delete(reset_links::table.filter(reset_links::user_id.eq(id))).execute(db)?;
            diesel::insert_into(reset_links::table)
                .values((
                    reset_links::token_hash.eq(digest(&token)),
                    reset_links::user_id.eq(id),
                    reset_links::expires_at.eq(now + LINK_LASTS),
                ))
                .execute(db)?;
            Ok::<_, StoreError>(())
        })?;
        Ok(token)
    }

    /// Sets a password by a link, which holds no more then, and ends all sign-ins. Gives the name to sign in with.
    ///
    /// # Errors
    /// [`StoreError::NoLink`], or when the password is too short; the link still holds then.
    pub fn set_password_by(
        &self,
        token: &str,
        password: &str,
        now: i64,
    ) -> Result<String, StoreError> {
        // No connection is held while the password is hashed: that takes long on purpose.
        let hash = hashed(password)?;
        let mut db = self.writing()?;
        db.immediate_transaction(|db| {
            let found: Option<(i32, String)> = reset_links::table
                .inner_join(users::table)
                .filter(reset_links::token_hash.eq(digest(token)))
                .filter(reset_links::expires_at.ge(now))
                .filter(users::retired_at.is_null())
                .select((users::id, users::name))
                .first(db)
                .optional()?;
            let (id, name) = found.ok_or(StoreError::NoLink)?;
            diesel::update(users::table.find(id))
                .set(users::password_hash.eq(&hash))
                .execute(db)?;
            diesel::delete(reset_links::table.filter(reset_links::user_id.eq(id))).execute(db)?;
            diesel::delete(sign_ins::table.filter(sign_ins::user_id.eq(id))).execute(db)?;
            Ok(name)
        })
    }

    /// Marks of erased work, by assignment.
    ///
    /// # Errors
    /// When the database fails.
    pub fn figures(&self, class: i32) -> Result<Vec<(i32, f64)>, StoreError> {
        #[derive(QueryableByName)]
        struct Figure {
            #[diesel(sql_type = Integer)]
            assignment_id: i32,
            #[diesel(sql_type = diesel::sql_types::Double)]
            total: f64,
        }
        let rows: Vec<Figure> = sql_query(
            "SELECT f.assignment_id, f.total FROM figures f
             JOIN assignments s ON s.id = f.assignment_id WHERE s.class_id = ?1",
        )
        .bind::<Integer, _>(class)
        .load(&mut self.connection()?)?;
        Ok(rows
            .into_iter()
            .map(|f| (f.assignment_id, f.total))
            .collect())
    }

    /// When each attempt of somebody was handed in.
    ///
    /// # Errors
    /// When the database fails.
    pub fn handed_in_at(&self, person: i32) -> Result<Vec<(i32, Option<i64>)>, StoreError> {
        #[derive(QueryableByName)]
        struct Row {
            #[diesel(sql_type = Integer)]
            id: i32,
            #[diesel(sql_type = diesel::sql_types::Nullable<BigInt>)]
            handed_in_at: Option<i64>,
        }
        let rows: Vec<Row> =
            sql_query("SELECT id, handed_in_at FROM attempts WHERE student_id = ?1")
                .bind::<Integer, _>(person)
                .load(&mut self.connection()?)?;
        Ok(rows.into_iter().map(|r| (r.id, r.handed_in_at)).collect())
    }
}

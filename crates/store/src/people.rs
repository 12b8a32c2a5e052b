//! People and their sign-ins.

use argon2::Argon2;
use argon2::password_hash::rand_core::OsRng;
use argon2::password_hash::{PasswordHash, PasswordHasher, PasswordVerifier, SaltString};
use diesel::prelude::*;
use rand::RngCore;
use sha2::{Digest, Sha256};

use crate::database::Store;
use crate::error::StoreError;
use crate::schema::{sign_ins, users};

const SHORTEST_PASSWORD: usize = 8;
/// A sign-in lasts this long, in seconds.
const SIGN_IN_S: i64 = 14 * 24 * 3600;

/// What a person may do.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Role {
    Instructor,
    Student,
}

impl Role {
    /// As stored and sent.
    pub fn name(self) -> &'static str {
        match self {
            Self::Instructor => "instructor",
            Self::Student => "student",
        }
    }

    fn parse(text: &str) -> Result<Self, StoreError> {
        match text {
            "instructor" => Ok(Self::Instructor),
            "student" => Ok(Self::Student),
            other => Err(StoreError::Damaged(format!("a role “{other}”"))),
        }
    }
}

/// A person.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct User {
    pub id: i32,
    pub name: String,
    pub display: String,
    pub role: Role,
}

type Row = (i32, String, String, String);

fn user((id, name, display, role): Row) -> Result<User, StoreError> {
    Ok(User {
        id,
        name,
        display,
        role: Role::parse(&role)?,
    })
}

const COLUMNS: (users::id, users::name, users::display, users::role) =
    (users::id, users::name, users::display, users::role);

impl Store {
    /// Adds a person; the password is kept as an Argon2id hash.
    ///
    /// # Errors
    /// When the name is taken or the password too short.
    pub fn add_user(
        &self,
        name: &str,
        display: &str,
        role: Role,
        password: &str,
    ) -> Result<User, StoreError> {
        if password.chars().count() < SHORTEST_PASSWORD {
            return Err(StoreError::WeakPassword(SHORTEST_PASSWORD));
        }
        let salt = SaltString::generate(&mut OsRng);
        let hash = Argon2::default()
            .hash_password(password.as_bytes(), &salt)
            .map_err(|e| StoreError::Database(e.to_string()))?
            .to_string();
        let mut db = self.writing()?;
        let row: Result<Row, _> = diesel::insert_into(users::table)
            .values((
                users::name.eq(name),
                users::display.eq(display),
                users::role.eq(role.name()),
                users::password_hash.eq(hash),
            ))
            .returning(COLUMNS)
            .get_result(&mut db);
        match row {
            Err(diesel::result::Error::DatabaseError(
                diesel::result::DatabaseErrorKind::UniqueViolation,
                _,
            )) => Err(StoreError::NameTaken(name.to_owned())),
            row => user(row?),
        }
    }

    /// Signs a person in: a token to keep in a cookie, or `None` when name or password is wrong.
    /// Both cases take as long, so that a wrong name does not show.
    ///
    /// # Errors
    /// When the database fails.
    pub fn sign_in(
        &self,
        name: &str,
        password: &str,
        now: i64,
    ) -> Result<Option<(String, User)>, StoreError> {
        // No connection is held while the password is looked at: that takes long on purpose.
        let found: Option<(Row, String)> = users::table
            .filter(users::name.eq(name))
            .select((COLUMNS, users::password_hash))
            .first(&mut self.connection()?)
            .optional()?;
        let hash = found.as_ref().map_or(NOBODY, |(_, hash)| hash.as_str());
        let parsed = PasswordHash::new(hash).map_err(|e| StoreError::Damaged(e.to_string()))?;
        let right = Argon2::default()
            .verify_password(password.as_bytes(), &parsed)
            .is_ok();
        let Some((row, _)) = found.filter(|_| right) else {
            return Ok(None);
        };
        let user = user(row)?;
        let mut bytes = [0u8; 32];
        rand::rng().fill_bytes(&mut bytes);
        let token: String = bytes.iter().map(|b| format!("{b:02x}")).collect();
        let mut db = self.writing()?;
        diesel::delete(sign_ins::table.filter(sign_ins::expires_at.lt(now))).execute(&mut db)?;
        diesel::insert_into(sign_ins::table)
            .values((
                sign_ins::token_hash.eq(digest(&token)),
                sign_ins::user_id.eq(user.id),
                sign_ins::expires_at.eq(now + SIGN_IN_S),
            ))
            .execute(&mut db)?;
        Ok(Some((token, user)))
    }

    /// The person a token belongs to, while it lasts.
    ///
    /// # Errors
    /// When the database fails.
    pub fn signed_in(&self, token: &str, now: i64) -> Result<Option<User>, StoreError> {
        let mut db = self.connection()?;
        let row: Option<Row> = sign_ins::table
            .inner_join(users::table)
            .filter(sign_ins::token_hash.eq(digest(token)))
            .filter(sign_ins::expires_at.ge(now))
            .select(COLUMNS)
            .first(&mut db)
            .optional()?;
        row.map(user).transpose()
    }

    /// Ends a sign-in.
    ///
    /// # Errors
    /// When the database fails.
    pub fn sign_out(&self, token: &str) -> Result<(), StoreError> {
        let mut db = self.writing()?;
        diesel::delete(sign_ins::table.find(digest(token))).execute(&mut db)?;
        Ok(())
    }

    /// All students by name.
    ///
    /// # Errors
    /// When the database fails.
    pub fn students(&self) -> Result<Vec<User>, StoreError> {
        let mut db = self.connection()?;
        let rows: Vec<Row> = users::table
            .filter(users::role.eq(Role::Student.name()))
            .order(users::display)
            .select(COLUMNS)
            .load(&mut db)?;
        rows.into_iter().map(user).collect()
    }

    /// Whether anybody is in the database.
    ///
    /// # Errors
    /// When the database fails.
    pub fn is_empty(&self) -> Result<bool, StoreError> {
        let mut db = self.connection()?;
        Ok(users::table.count().get_result::<i64>(&mut db)? == 0)
    }
}

/// Only a digest of the token is stored: who reads the database cannot sign in with it.
fn digest(token: &str) -> String {
    Sha256::digest(token.as_bytes())
        .iter()
        .map(|b| format!("{b:02x}"))
        .collect()
}

/// A hash that belongs to nobody, checked when the name is unknown.
const NOBODY: &str =
    "$argon2id$v=19$m=19456,t=2,p=1$bm9ib2R5bm9ib2R5$pUkQbzTjzXy9jR5mQ5ECm5kq0pzbqbO6rM1vTgJzJ1w";

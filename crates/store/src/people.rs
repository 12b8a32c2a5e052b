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
const LONGEST_NAME: usize = 60;

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
    /// When they left, in seconds of the epoch.
    pub retired_at: Option<i64>,
}

/// Somebody to be added.
#[derive(Debug, Clone)]
pub struct NewPerson {
    /// To sign in with.
    pub name: String,
    pub display: String,
    pub role: Role,
    pub password: String,
}

type Row = (i32, String, String, String, Option<i64>);

fn user((id, name, display, role, retired_at): Row) -> Result<User, StoreError> {
    Ok(User {
        id,
        name,
        display,
        role: Role::parse(&role)?,
        retired_at,
    })
}

type Columns = (
    users::id,
    users::name,
    users::display,
    users::role,
    users::retired_at,
);
const COLUMNS: Columns = (
    users::id,
    users::name,
    users::display,
    users::role,
    users::retired_at,
);

/// Names are kept, and found, without regard to capitals.
fn plain(name: &str) -> String {
    name.trim().to_lowercase()
}

/// The hash that a password is kept as.
fn hashed(password: &str) -> Result<String, StoreError> {
    if password.chars().count() < SHORTEST_PASSWORD {
        return Err(StoreError::WeakPassword(SHORTEST_PASSWORD));
    }
    let salt = SaltString::generate(&mut OsRng);
    let hash = Argon2::default().hash_password(password.as_bytes(), &salt);
    let hash = hash.map_err(|e| StoreError::Database(e.to_string()))?;
    Ok(hash.to_string())
}

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
        let mut added = self.add_people(&[NewPerson {
            name: name.to_owned(),
            display: display.to_owned(),
            role,
            password: password.to_owned(),
        }])?;
        added
            .pop()
            .ok_or_else(|| StoreError::Database("nobody was added".to_owned()))
    }

    /// Adds people, all of them or none.
    ///
    /// # Errors
    /// As [`Store::add_user`].
    pub fn add_people(&self, people: &[NewPerson]) -> Result<Vec<User>, StoreError> {
        // No connection is held while passwords are hashed: that takes long on purpose.
        let mut rows = Vec::new();
        for person in people {
            let (name, display) = (plain(&person.name), person.display.trim());
            let fits = |text: &str| !text.is_empty() && text.chars().count() <= LONGEST_NAME;
            if !fits(&name) || !fits(display) || display.chars().any(char::is_control) {
                return Err(StoreError::NoName(LONGEST_NAME));
            }
            rows.push((name, display, person.role, hashed(&person.password)?));
        }
        let mut db = self.writing()?;
        db.immediate_transaction(|db| {
            let add = |row: &(String, &str, Role, String)| add_one(db, row);
            rows.iter().map(add).collect()
        })
    }

    /// Signs a person in, from a moment for so many seconds: a token to keep in a cookie, or `None` when name or
    /// password is wrong.
    /// Both cases take as long, so that a wrong name does not show.
    ///
    /// # Errors
    /// When the database fails.
    pub fn sign_in(
        &self,
        name: &str,
        password: &str,
        (now, lasts_s): (i64, i64),
    ) -> Result<Option<(String, User)>, StoreError> {
        // No connection is held while the password is looked at: that takes long on purpose.
        let found: Option<(Row, String)> = users::table
            .filter(users::name.eq(plain(name)))
            .filter(users::retired_at.is_null())
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
                sign_ins::expires_at.eq(now + lasts_s),
            ))
            .execute(&mut db)?;
        Ok(Some((token, user)))
    }

    /// Whether somebody signs in with a name.
    ///
    /// # Errors
    /// When the database fails.
    pub fn knows(&self, name: &str) -> Result<bool, StoreError> {
        let found = users::table.filter(users::name.eq(plain(name)));
        let found = found.filter(users::retired_at.is_null());
        let known = diesel::select(diesel::dsl::exists(found));
        Ok(known.get_result(&mut self.connection()?)?)
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
            .filter(users::retired_at.is_null())
            .order(users::display)
            .select(COLUMNS)
            .load(&mut db)?;
        rows.into_iter().map(user).collect()
    }

    /// Everybody, those who left too, by name.
    ///
    /// # Errors
    /// When the database fails.
    pub fn people(&self) -> Result<Vec<User>, StoreError> {
        let mut db = self.connection()?;
        let rows: Vec<Row> = users::table
            .order(users::name)
            .select(COLUMNS)
            .load(&mut db)?;
        rows.into_iter().map(user).collect()
    }

    /// Gives somebody another password, and ends their sign-ins.
    ///
    /// # Errors
    /// [`StoreError::NotFound`], or when the password is too short.
    pub fn set_password(&self, name: &str, password: &str) -> Result<(), StoreError> {
        let hash = hashed(password)?;
        self.change(name, |db, id| {
            diesel::update(users::table.find(id))
                .set(users::password_hash.eq(&hash))
                .execute(db)
        })
    }

    /// Notes that somebody has left, with when, or is back, and ends their sign-ins. Their work stays.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub fn set_retired(&self, name: &str, at: Option<i64>) -> Result<(), StoreError> {
        self.change(name, |db, id| {
            diesel::update(users::table.find(id))
                .set(users::retired_at.eq(at))
                .execute(db)
        })
    }

    /// Changes a person, who has to sign in again.
    fn change(
        &self,
        name: &str,
        how: impl Fn(&mut SqliteConnection, i32) -> QueryResult<usize>,
    ) -> Result<(), StoreError> {
        let mut db = self.writing()?;
        let id = db.immediate_transaction(|db| {
            let found = users::table.filter(users::name.eq(plain(name)));
            let id: Option<i32> = found.select(users::id).first(db).optional()?;
            if let Some(id) = id {
                how(db, id)?;
                diesel::delete(sign_ins::table.filter(sign_ins::user_id.eq(id))).execute(db)?;
            }
            QueryResult::Ok(id)
        })?;
        id.map(|_| ()).ok_or_else(|| StoreError::NotFound {
            what: "person called",
            id: name.to_owned(),
        })
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

fn add_one(
    db: &mut SqliteConnection,
    (name, display, role, hash): &(String, &str, Role, String),
) -> Result<User, StoreError> {
    let row: Result<Row, _> = diesel::insert_into(users::table)
        .values((
            users::name.eq(name),
            users::display.eq(display),
            users::role.eq(role.name()),
            users::password_hash.eq(hash),
        ))
        .returning(COLUMNS)
        .get_result(db);
    match row {
        Err(diesel::result::Error::DatabaseError(
            diesel::result::DatabaseErrorKind::UniqueViolation,
            _,
        )) => Err(StoreError::NameTaken(name.clone())),
        row => user(row?),
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

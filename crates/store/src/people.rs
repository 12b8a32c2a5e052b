//! People and their sign-ins.

use argon2::Argon2;
use argon2::password_hash::rand_core::OsRng;
use argon2::password_hash::{PasswordHash, PasswordHasher, PasswordVerifier, SaltString};
use diesel::dsl::sql;
use diesel::expression::SqlLiteral;
use diesel::prelude::*;
use diesel::sql_types::Text;
use rand::RngCore;
use sha2::{Digest, Sha256};

use crate::classes::missing;
use crate::database::Store;
use crate::error::StoreError;
use crate::names::in_a_line;
use crate::roles::{Role, Roles};
use crate::schema::{roles, sign_ins, users};

const SHORTEST_PASSWORD: usize = 8;
const LONGEST_NAME: usize = 60;
/// Of the digest of a token so much stands for the sign-in.
const SHOWN_OF_A_SIGN_IN: usize = 16;

/// A person.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct User {
    pub id: i32,
    pub name: String,
    pub display: String,
    pub roles: Roles,
    /// When they left, in seconds of the epoch.
    pub retired_at: Option<i64>,
}

/// Somebody to be added.
#[derive(Debug, Clone)]
pub struct NewPerson {
    /// To sign in with.
    pub name: String,
    pub display: String,
    pub roles: Roles,
    pub password: String,
}

/// When somebody signs in, for how many seconds, and with what.
#[derive(Debug, Clone, Copy)]
pub struct From<'a> {
    pub now: i64,
    pub lasts_s: i64,
    /// In words, for them to recognise.
    pub browser: &'a str,
}

/// A sign-in that lasts.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct SignIn {
    /// A number that stands for it; it signs nobody in.
    pub id: String,
    pub began_at: i64,
    pub expires_at: i64,
    pub browser: String,
    /// It is the one that asks.
    pub own: bool,
}

type Row = (i32, String, String, String, Option<i64>);

fn user((id, name, display, roles, retired_at): Row) -> Result<User, StoreError> {
    Ok(User {
        id,
        name,
        display,
        roles: Roles::parse(&roles)?,
        retired_at,
    })
}

type Columns = (
    users::id,
    users::name,
    users::display,
    SqlLiteral<Text>,
    users::retired_at,
);

fn columns() -> Columns {
    (
        users::id,
        users::name,
        users::display,
        sql("coalesce((SELECT group_concat(role) FROM roles WHERE roles.user_id = users.id), '')"),
        users::retired_at,
    )
}

/// Names are kept, and found, without regard to capitals.
fn plain(name: &str) -> String {
    name.trim().to_lowercase()
}

/// A name as it is kept to be shown.
fn shown(name: &str) -> Result<&str, StoreError> {
    in_a_line(name, LONGEST_NAME).ok_or(StoreError::NoName(LONGEST_NAME))
}

/// The hash that a password is kept as.
pub(crate) fn hashed(password: &str) -> Result<String, StoreError> {
    if password.chars().count() < SHORTEST_PASSWORD {
        return Err(StoreError::WeakPassword(SHORTEST_PASSWORD));
    }
    hash_of(password)
}

/// The hash of what somebody is known by.
pub(crate) fn hash_of(secret: &str) -> Result<String, StoreError> {
    let salt = SaltString::generate(&mut OsRng);
    let hash = Argon2::default().hash_password(secret.as_bytes(), &salt);
    let hash = hash.map_err(|e| StoreError::Database(e.to_string()))?;
    Ok(hash.to_string())
}

/// Whether it is what a hash was made of.
pub(crate) fn verified(secret: &str, hash: &str) -> Result<bool, StoreError> {
    let parsed = PasswordHash::new(hash).map_err(|e| StoreError::Damaged(e.to_string()))?;
    Ok(Argon2::default()
        .verify_password(secret.as_bytes(), &parsed)
        .is_ok())
}

/// Begins a sign-in of somebody: a token to keep in a cookie.
pub(crate) fn opens(
    db: &mut SqliteConnection,
    person: i32,
    from: &From<'_>,
) -> Result<String, StoreError> {
    let mut bytes = [0u8; 32];
    rand::rng().fill_bytes(&mut bytes);
    let token: String = bytes.iter().map(|b| format!("{b:02x}")).collect();
    diesel::delete(sign_ins::table.filter(sign_ins::expires_at.lt(from.now))).execute(db)?;
    diesel::insert_into(sign_ins::table)
        .values((
            sign_ins::token_hash.eq(digest(&token)),
            sign_ins::user_id.eq(person),
            sign_ins::expires_at.eq(from.now + from.lasts_s),
            sign_ins::began_at.eq(from.now),
            sign_ins::browser.eq(from.browser),
        ))
        .execute(db)?;
    Ok(token)
}

/// A name to sign in with: the last word of one's name in plain letters, with a number where it is taken.
pub fn name_for(display: &str, taken: &[String]) -> String {
    let words = display.split_whitespace().rev();
    let mut plain = words.map(|word| {
        let letters = word.chars().filter(|c| c.is_alphanumeric());
        letters.flat_map(char::to_lowercase).collect::<String>()
    });
    let base = plain.find(|word| !word.is_empty()).unwrap_or_default();
    let mut name = base.clone();
    let mut number = 2;
    while taken.contains(&name) {
        name = format!("{base}{number}");
        number += 1;
    }
    name
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
        roles: impl Into<Roles>,
        password: &str,
    ) -> Result<User, StoreError> {
        let mut added = self.add_people(&[NewPerson {
            name: name.to_owned(),
            display: display.to_owned(),
            roles: roles.into(),
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
            let (name, display) = (plain(&person.name), shown(&person.display)?);
            shown(&name)?;
            rows.push((name, display, person.roles, hashed(&person.password)?));
        }
        let mut db = self.writing()?;
        db.immediate_transaction(|db| {
            let add = |row: &(String, &str, Roles, String)| add_one(db, row);
            rows.iter().map(add).collect()
        })
    }

    /// Signs a person in: a token to keep in a cookie, or `None` when name or
    /// password is wrong.
    /// Both cases take as long, so that a wrong name does not show.
    ///
    /// # Errors
    /// When the database fails.
    pub fn sign_in(
        &self,
        name: &str,
        password: &str,
        from: &From<'_>,
    ) -> Result<Option<(String, User)>, StoreError> {
        // No connection is held while the password is looked at: that takes long on purpose.
        let found: Option<(Row, String)> = users::table
            .filter(users::name.eq(plain(name)))
            .filter(users::retired_at.is_null())
            .select((columns(), users::password_hash))
            .first(&mut self.connection()?)
            .optional()?;
        // Who came from the school's records has none until they are given one.
        let hash = found.as_ref().map(|(_, hash)| hash.as_str());
        let hash = hash.filter(|hash| !hash.is_empty()).unwrap_or(NOBODY);
        let right = verified(password, hash)?;
        let Some((row, _)) = found.filter(|_| right) else {
            return Ok(None);
        };
        let user = user(row)?;
        let token = opens(&mut *self.writing()?, user.id, from)?;
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
            .select(columns())
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

    /// Where somebody is signed in, the latest first; one of them is a token's.
    ///
    /// # Errors
    /// When the database fails.
    pub fn sign_ins(&self, person: i32, token: &str, now: i64) -> Result<Vec<SignIn>, StoreError> {
        let rows: Vec<(String, i64, i64, String)> = sign_ins::table
            .filter(sign_ins::user_id.eq(person))
            .filter(sign_ins::expires_at.ge(now))
            .order(sign_ins::began_at.desc())
            .select((
                sign_ins::token_hash,
                sign_ins::began_at,
                sign_ins::expires_at,
                sign_ins::browser,
            ))
            .load(&mut self.connection()?)?;
        let own = digest(token);
        let one = |(hash, began_at, expires_at, browser): (String, i64, i64, String)| SignIn {
            own: hash == own,
            id: hash[..SHOWN_OF_A_SIGN_IN.min(hash.len())].to_owned(),
            began_at,
            expires_at,
            browser,
        };
        Ok(rows.into_iter().map(one).collect())
    }

    /// Ends one of somebody's sign-ins.
    ///
    /// # Errors
    /// When the database fails.
    pub fn end_sign_in(&self, person: i32, id: &str) -> Result<(), StoreError> {
        let long_enough = id.len() == SHOWN_OF_A_SIGN_IN;
        let hex = id.chars().all(|c| c.is_ascii_hexdigit());
        if long_enough && hex {
            let of_theirs = sign_ins::table
                .filter(sign_ins::user_id.eq(person))
                .filter(sign_ins::token_hash.like(format!("{id}%")));
            diesel::delete(of_theirs).execute(&mut self.writing()?)?;
        }
        Ok(())
    }

    /// All students by name.
    ///
    /// # Errors
    /// When the database fails.
    pub fn students(&self) -> Result<Vec<User>, StoreError> {
        let mut db = self.connection()?;
        let students = roles::table
            .filter(roles::role.eq(Role::Student.name()))
            .select(roles::user_id);
        let rows: Vec<Row> = users::table
            .filter(users::id.eq_any(students))
            .filter(users::retired_at.is_null())
            .order(users::display)
            .select(columns())
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
            .select(columns())
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
                .execute(db)?;
            Ok(())
        })
    }

    /// Notes that somebody has left, with when, or is back, and ends their sign-ins. Their work stays.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub fn set_retired(&self, name: &str, at: Option<i64>) -> Result<(), StoreError> {
        self.change(name, |db, id| {
            somebody_administers(db, |db| {
                diesel::update(users::table.find(id))
                    .set(users::retired_at.eq(at))
                    .execute(db)?;
                Ok(())
            })
        })
    }

    /// Gives somebody another name to be shown by, and says what they are.
    ///
    /// # Errors
    /// [`StoreError::NotFound`], [`StoreError::NoName`], or [`StoreError::LastAdministrator`].
    pub fn change_person(&self, id: i32, display: &str, all: Roles) -> Result<User, StoreError> {
        let display = shown(display)?;
        let mut db = self.writing()?;
        db.immediate_transaction(|db| {
            diesel::update(users::table.find(id))
                .set(users::display.eq(display))
                .execute(db)?;
            somebody_administers(db, |db| set_roles(db, id, all))?;
            one(db, id)
        })
    }

    /// Somebody by number.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub fn person(&self, id: i32) -> Result<User, StoreError> {
        one(&mut *self.connection()?, id)
    }

    /// Changes a person, who has to sign in again.
    fn change(
        &self,
        name: &str,
        how: impl Fn(&mut SqliteConnection, i32) -> Result<(), StoreError>,
    ) -> Result<(), StoreError> {
        let mut db = self.writing()?;
        let id = db.immediate_transaction(|db| {
            let found = users::table.filter(users::name.eq(plain(name)));
            let id: Option<i32> = found.select(users::id).first(db).optional()?;
            if let Some(id) = id {
                how(db, id)?;
                diesel::delete(sign_ins::table.filter(sign_ins::user_id.eq(id))).execute(db)?;
            }
            Ok::<_, StoreError>(id)
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
    (name, display, roles, hash): &(String, &str, Roles, String),
) -> Result<User, StoreError> {
    let id: Result<i32, _> = diesel::insert_into(users::table)
        .values((
            users::name.eq(name),
            users::display.eq(display),
            users::password_hash.eq(hash),
        ))
        .returning(users::id)
        .get_result(db);
    let id = match id {
        Err(diesel::result::Error::DatabaseError(
            diesel::result::DatabaseErrorKind::UniqueViolation,
            _,
        )) => return Err(StoreError::NameTaken(name.clone())),
        id => id?,
    };
    set_roles(db, id, *roles)?;
    one(db, id)
}

pub(crate) fn one(db: &mut SqliteConnection, id: i32) -> Result<User, StoreError> {
    let row: Option<Row> = users::table
        .find(id)
        .select(columns())
        .first(db)
        .optional()?;
    user(row.ok_or_else(|| missing("person", id))?)
}

pub(crate) fn set_roles(db: &mut SqliteConnection, id: i32, all: Roles) -> Result<(), StoreError> {
    diesel::delete(roles::table.filter(roles::user_id.eq(id))).execute(db)?;
    for role in all.iter() {
        diesel::insert_into(roles::table)
            .values((roles::user_id.eq(id), roles::role.eq(role.name())))
            .execute(db)?;
    }
    Ok(())
}

/// Changes somebody, unless that leaves nobody to look after the people.
fn somebody_administers(
    db: &mut SqliteConnection,
    change: impl FnOnce(&mut SqliteConnection) -> Result<(), StoreError>,
) -> Result<(), StoreError> {
    let before = administrators(db)?;
    change(db)?;
    match before > 0 && administrators(db)? == 0 {
        true => Err(StoreError::LastAdministrator),
        false => Ok(()),
    }
}

fn administrators(db: &mut SqliteConnection) -> QueryResult<i64> {
    users::table
        .inner_join(roles::table)
        .filter(roles::role.eq(Role::Administrator.name()))
        .filter(users::retired_at.is_null())
        .count()
        .get_result(db)
}

/// Only a digest of the token is stored: who reads the database cannot sign in with it.
pub(crate) fn digest(token: &str) -> String {
    Sha256::digest(token.as_bytes())
        .iter()
        .map(|b| format!("{b:02x}"))
        .collect()
}

/// A hash that belongs to nobody, checked when the name is unknown.
const NOBODY: &str =
    "$argon2id$v=19$m=19456,t=2,p=1$bm9ib2R5bm9ib2R5$pUkQbzTjzXy9jR5mQ5ECm5kq0pzbqbO6rM1vTgJzJ1w";

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_name_is_made_from_the_last_word() {
        let taken = ["varga".to_owned(), "varga2".to_owned()];
        for (display, name) in [
            ("I. Varga", "varga3"),
            ("Ana María O'Dell", "odell"),
            ("  Lindqvist ", "lindqvist"),
            ("Jörg Öhler (B)", "b"),
        ] {
            assert_eq!(name_for(display, &taken), name);
        }
        assert_eq!(name_for(" ", &taken), "");
    }
}

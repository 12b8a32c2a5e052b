//! Class codes and PINs: in a workshop without e-mail a student gives the code of their class, picks their name and
//! types a PIN, which the first time they set. Neither is worth anything without the other.

use diesel::prelude::*;

use crate::classes::missing;
use crate::database::Store;
use crate::error::StoreError;
use crate::people::{From, User, hash_of, opens, verified};
use crate::roles::{Role, Roles};
use crate::schema::{classes, members, users};

/// Digits of a PIN.
const PIN_DIGITS: std::ops::RangeInclusive<usize> = 4..=8;

/// A class as one who has its code sees it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct CodedClass {
    pub id: i32,
    pub name: String,
    /// Its students: number, name as shown, and whether they have a PIN.
    pub students: Vec<(i32, String, bool)>,
}

impl Store {
    /// The code of a class, where it has one.
    ///
    /// # Errors
    /// When the database fails.
    pub fn class_code(&self, class: i32) -> Result<Option<String>, StoreError> {
        let code: Option<Option<String>> = classes::table
            .find(class)
            .select(classes::code)
            .first(&mut self.connection()?)
            .optional()?;
        Ok(code.flatten())
    }

    /// Gives a class a code, or takes it away.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub fn set_class_code(&self, class: i32, code: Option<&str>) -> Result<(), StoreError> {
        let changed = diesel::update(classes::table.find(class))
            .set(classes::code.eq(code))
            .execute(&mut self.writing()?)?;
        match changed {
            0 => Err(missing("class", class)),
            _ => Ok(()),
        }
    }

    /// The class that has a code, while it goes on, with its students: those who are nothing else besides.
    ///
    /// # Errors
    /// When the database fails.
    pub fn class_by_code(&self, code: &str) -> Result<Option<CodedClass>, StoreError> {
        let mut db = self.connection()?;
        let found: Option<(i32, String)> = classes::table
            .filter(classes::code.eq(code.trim().to_lowercase()))
            .filter(classes::over_at.is_null())
            .select((classes::id, classes::name))
            .first(&mut db)
            .optional()?;
        let Some((id, name)) = found else {
            return Ok(None);
        };
        drop(db);
        let own: Vec<i32> = members::table
            .filter(members::class_id.eq(id))
            .filter(members::role.eq(Role::Student.name()))
            .select(members::user_id)
            .load(&mut self.connection()?)?;
        let with_pin: Vec<i32> = users::table
            .filter(users::pin_hash.is_not_null())
            .select(users::id)
            .load(&mut self.connection()?)?;
        let mut students: Vec<_> = self
            .people()?
            .into_iter()
            .filter(|p| own.contains(&p.id) && only_learns(p))
            .map(|p| (p.id, p.display, with_pin.contains(&p.id)))
            .collect();
        students.sort_by(|a, b| a.1.cmp(&b.1));
        Ok(Some(CodedClass { id, name, students }))
    }

    /// Signs a student in with their PIN; the first that is typed becomes theirs. None where it is wrong.
    ///
    /// # Errors
    /// [`StoreError::NoPin`] where it is no PIN; when the database fails.
    pub fn sign_in_by_pin(
        &self,
        person: i32,
        pin: &str,
        from: &From<'_>,
    ) -> Result<Option<(String, User)>, StoreError> {
        let digits = pin.chars().all(|c| c.is_ascii_digit());
        if !digits || !PIN_DIGITS.contains(&pin.len()) {
            return Err(StoreError::NoPin(*PIN_DIGITS.start(), *PIN_DIGITS.end()));
        }
        let user = self.person(person)?;
        if !only_learns(&user) {
            return Ok(None);
        }
        let kept: Option<String> = users::table
            .find(person)
            .select(users::pin_hash)
            .first(&mut self.connection()?)?;
        // No connection is held while it is looked at: that takes long on purpose.
        match kept {
            Some(hash) if !verified(pin, &hash)? => return Ok(None),
            Some(_) => {}
            None => {
                let hash = hash_of(pin)?;
                let set =
                    diesel::update(users::table.find(person).filter(users::pin_hash.is_null()))
                        .set(users::pin_hash.eq(hash))
                        .execute(&mut self.writing()?)?;
                // Somebody else was faster.
                if set == 0 {
                    return Ok(None);
                }
            }
        }
        let token = opens(&mut *self.writing()?, user.id, from)?;
        Ok(Some((token, user)))
    }

    /// Forgets somebody's PIN: the next that they type becomes theirs.
    ///
    /// # Errors
    /// When the database fails.
    pub fn forget_pin(&self, person: i32) -> Result<(), StoreError> {
        diesel::update(users::table.find(person))
            .set(users::pin_hash.eq(None::<String>))
            .execute(&mut self.writing()?)?;
        Ok(())
    }
}

/// A PIN signs in nobody who sees more than their own work.
fn only_learns(user: &User) -> bool {
    user.retired_at.is_none() && user.roles == Roles::from(Role::Student)
}

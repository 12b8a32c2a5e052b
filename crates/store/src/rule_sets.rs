//! Rules of lessons under a name, to be used again.

use diesel::prelude::*;

use crate::classes::missing;
use crate::database::Store;
use crate::error::StoreError;
use crate::names::in_a_line;
use crate::schema::{rule_sets, users};

const LONGEST_NAME: usize = 60;
/// So many in all.
const MOST: i64 = 200;

/// Rules that were kept.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct RuleSet {
    pub id: i32,
    pub name: String,
    pub author: i32,
    pub author_name: String,
    /// As JSON.
    pub rules: String,
}

impl Store {
    /// All that were kept, by their names.
    ///
    /// # Errors
    /// When the database fails.
    pub fn rule_sets(&self) -> Result<Vec<RuleSet>, StoreError> {
        let rows: Vec<(i32, String, i32, String, String)> = rule_sets::table
            .inner_join(users::table)
            .order(rule_sets::name)
            .select((
                rule_sets::id,
                rule_sets::name,
                rule_sets::author_id,
                users::display,
                rule_sets::rules,
            ))
            .load(&mut self.connection()?)?;
        let one = |(id, name, author, author_name, rules)| RuleSet {
            id,
            name,
            author,
            author_name,
            rules,
        };
        Ok(rows.into_iter().map(one).collect())
    }

    /// Keeps rules under a name; one's own of that name are replaced. Says their number.
    ///
    /// # Errors
    /// [`StoreError::NoRuleSet`] for a name that is none, or one more than there may be; [`StoreError::NameTaken`] where the name
    /// is somebody else's.
    pub fn keep_rules(&self, name: &str, author: i32, rules: &str) -> Result<i32, StoreError> {
        let name =
            in_a_line(name, LONGEST_NAME).ok_or(StoreError::NoRuleSet(LONGEST_NAME, MOST))?;
        let mut db = self.writing()?;
        db.immediate_transaction(|db| {
            let known: Option<(i32, i32)> = rule_sets::table
                .filter(rule_sets::name.eq(name))
                .select((rule_sets::id, rule_sets::author_id))
                .first(db)
                .optional()?;
            match known {
                Some((id, of)) if of == author => {
                    diesel::update(rule_sets::table.find(id))
                        .set(rule_sets::rules.eq(rules))
                        .execute(db)?;
                    Ok(id)
                }
                Some(_) => Err(StoreError::NameTaken(name.to_owned())),
                None => {
                    let have: i64 = rule_sets::table.count().get_result(db)?;
                    if have >= MOST {
                        return Err(StoreError::NoRuleSet(LONGEST_NAME, MOST));
                    }
                    Ok(diesel::insert_into(rule_sets::table)
                        .values((
                            rule_sets::name.eq(name),
                            rule_sets::author_id.eq(author),
                            rule_sets::rules.eq(rules),
                        ))
                        .returning(rule_sets::id)
                        .get_result(db)?)
                }
            }
        })
    }

    /// Forgets rules of somebody's own.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when they have none of that number.
    pub fn forget_rules(&self, id: i32, author: i32) -> Result<(), StoreError> {
        let own = rule_sets::table
            .filter(rule_sets::id.eq(id))
            .filter(rule_sets::author_id.eq(author));
        match diesel::delete(own).execute(&mut self.writing()?)? {
            0 => Err(missing("set of rules of yours", id)),
            _ => Ok(()),
        }
    }
}

//! What taking a roster over would change, and changing it.

use std::collections::{BTreeMap, BTreeSet};

use diesel::prelude::*;

use super::read::Roster;
use crate::classes::{enrol, give_whole_class};
use crate::database::Store;
use crate::error::StoreError;
use crate::people::{name_for, set_roles};
use crate::roles::{Role, Roles};
use crate::schema::{classes, members, roles, sign_ins, users};

/// One change, in words.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord)]
pub struct Change {
    /// add, change, leave, come back, begin, end, join, or go.
    pub what: &'static str,
    /// Whom or what.
    pub about: String,
}

/// Everything that a roster would change.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Plan {
    pub changes: Vec<Change>,
}

/// Somebody who is there already.
struct Known {
    id: i32,
    name: String,
    display: String,
    source: Option<String>,
    retired: bool,
    roles: Roles,
}

/// Number, name, display, source and when they left.
type PersonRow = (i32, String, String, Option<String>, Option<i64>);

/// A class that is there already.
struct KnownClass {
    id: i32,
    name: String,
    source: Option<String>,
    over: bool,
}

impl Store {
    /// What taking a roster over would change.
    ///
    /// # Errors
    /// As [`Store::take_over`].
    pub fn would_change(&self, roster: &Roster, now: i64) -> Result<Plan, StoreError> {
        let mut db = self.writing()?;
        let mut plan = Err(StoreError::Busy);
        // It is done, looked at, and undone: what is told is what would happen.
        let undone = db.immediate_transaction(|db| {
            plan = apply(db, roster, now);
            Err::<(), _>(diesel::result::Error::RollbackTransaction)
        });
        match undone {
            Err(diesel::result::Error::RollbackTransaction) => plan,
            Err(e) => Err(e.into()),
            Ok(()) => plan,
        }
    }

    /// Takes a roster over, all of it or nothing. Who comes is there without a password; nobody's work is touched.
    ///
    /// # Errors
    /// When the database fails.
    pub fn take_over(&self, roster: &Roster, now: i64) -> Result<Plan, StoreError> {
        let mut db = self.writing()?;
        db.immediate_transaction(|db| apply(db, roster, now))
    }
}

fn known_people(db: &mut SqliteConnection) -> Result<Vec<Known>, StoreError> {
    let mut of: BTreeMap<i32, Vec<Role>> = BTreeMap::new();
    let all: Vec<(i32, String)> = roles::table.load(db)?;
    for (id, role) in all {
        of.entry(id).or_default().push(Role::parse(&role)?);
    }
    let rows: Vec<PersonRow> = users::table
        .select((
            users::id,
            users::name,
            users::display,
            users::source,
            users::retired_at,
        ))
        .load(db)?;
    let known = rows
        .into_iter()
        .map(|(id, name, display, source, retired)| Known {
            roles: of.remove(&id).unwrap_or_default().into_iter().collect(),
            id,
            name,
            display,
            source,
            retired: retired.is_some(),
        });
    Ok(known.collect())
}

fn known_classes(db: &mut SqliteConnection) -> Result<Vec<KnownClass>, StoreError> {
    let rows: Vec<(i32, String, Option<String>, Option<i64>)> = classes::table
        .select((
            classes::id,
            classes::name,
            classes::source,
            classes::over_at,
        ))
        .load(db)?;
    let known = rows.into_iter().map(|(id, name, source, over)| KnownClass {
        id,
        name,
        source,
        over: over.is_some(),
    });
    Ok(known.collect())
}

fn apply(db: &mut SqliteConnection, roster: &Roster, now: i64) -> Result<Plan, StoreError> {
    let mut plan = Plan::default();
    let ids = people(db, roster, now, &mut plan)?;
    let class_ids = take_classes(db, roster, now, &mut plan)?;
    enrollments(db, roster, (&ids, &class_ids), now, &mut plan)?;
    Ok(plan)
}

impl Plan {
    fn note(&mut self, what: &'static str, about: impl Into<String>) {
        self.changes.push(Change {
            what,
            about: about.into(),
        });
    }
}

/// People, and their numbers by what the records call them.
fn people(
    db: &mut SqliteConnection,
    roster: &Roster,
    now: i64,
    plan: &mut Plan,
) -> Result<BTreeMap<String, i32>, StoreError> {
    let known = known_people(db)?;
    let mut taken: Vec<String> = known.iter().map(|k| k.name.clone()).collect();
    let mut ids = BTreeMap::new();
    let mut seen = BTreeSet::new();
    for person in &roster.people {
        seen.insert(person.source.as_str());
        let by_source = known
            .iter()
            .find(|k| k.source.as_ref() == Some(&person.source));
        // Somebody who was added by hand is known by the name they sign in with.
        let by_name =
            |k: &&Known| k.source.is_none() && !person.name.is_empty() && k.name == person.name;
        let found = by_source.or_else(|| known.iter().find(by_name));
        let Some(found) = found else {
            if !person.active {
                continue;
            }
            let mut name = person.name.clone();
            if name.is_empty() || taken.contains(&name) {
                name = name_for(&person.display, &taken);
            }
            taken.push(name.clone());
            let id: i32 = diesel::insert_into(users::table)
                .values((
                    users::name.eq(&name),
                    users::display.eq(&person.display),
                    users::password_hash.eq(""),
                    users::source.eq(&person.source),
                ))
                .returning(users::id)
                .get_result(db)?;
            set_roles(db, id, person.role.into())?;
            plan.note(
                "add",
                format!(
                    "{}, {}, signs in as {name}",
                    person.display,
                    person.role.name()
                ),
            );
            ids.insert(person.source.clone(), id);
            continue;
        };
        ids.insert(person.source.clone(), found.id);
        if found.source.is_none() {
            diesel::update(users::table.find(found.id))
                .set(users::source.eq(&person.source))
                .execute(db)?;
            plan.note(
                "change",
                format!("{} is known in the records", found.display),
            );
        }
        if found.display != person.display {
            diesel::update(users::table.find(found.id))
                .set(users::display.eq(&person.display))
                .execute(db)?;
            plan.note(
                "change",
                format!("{} is now {}", found.display, person.display),
            );
        }
        // What they were made here besides, they stay.
        if !found.roles.has(person.role) {
            let all = found.roles.iter().chain([person.role]).collect();
            set_roles(db, found.id, all)?;
            let role = person.role.name();
            plan.note("change", format!("{} is {role} too", person.display));
        }
        match (found.retired, person.active) {
            (false, false) => retire(db, found, Some(now), plan)?,
            (true, true) => retire(db, found, None, plan)?,
            _ => {}
        }
    }
    if roster.all_people {
        for gone in &known {
            let source = gone.source.as_deref();
            if source.is_some_and(|s| !seen.contains(s)) && !gone.retired {
                retire(db, gone, Some(now), plan)?;
            }
        }
    }
    Ok(ids)
}

fn retire(
    db: &mut SqliteConnection,
    who: &Known,
    at: Option<i64>,
    plan: &mut Plan,
) -> Result<(), StoreError> {
    // Whoever looks after the people is not shut out by a file.
    if at.is_some() && who.roles.has(Role::Administrator) {
        return Ok(());
    }
    diesel::update(users::table.find(who.id))
        .set(users::retired_at.eq(at))
        .execute(db)?;
    diesel::delete(sign_ins::table.filter(sign_ins::user_id.eq(who.id))).execute(db)?;
    plan.note(
        if at.is_some() { "leave" } else { "come back" },
        &who.display,
    );
    Ok(())
}

fn take_classes(
    db: &mut SqliteConnection,
    roster: &Roster,
    now: i64,
    plan: &mut Plan,
) -> Result<BTreeMap<String, i32>, StoreError> {
    let known = known_classes(db)?;
    let mut ids = BTreeMap::new();
    let mut seen = BTreeSet::new();
    for class in &roster.classes {
        seen.insert(class.source.as_str());
        let by_source = known
            .iter()
            .find(|k| k.source.as_ref() == Some(&class.source));
        // One that was made by hand is known by its name.
        let by_name = |k: &&KnownClass| k.source.is_none() && k.name == class.name;
        let found = by_source.or_else(|| known.iter().find(by_name));
        let Some(found) = found else {
            if !class.active {
                continue;
            }
            let id: i32 = diesel::insert_into(classes::table)
                .values((
                    classes::name.eq(&class.name),
                    classes::made_at.eq(now),
                    classes::source.eq(&class.source),
                ))
                .returning(classes::id)
                .get_result(db)?;
            plan.note("begin", &class.name);
            ids.insert(class.source.clone(), id);
            continue;
        };
        ids.insert(class.source.clone(), found.id);
        if found.source.is_none() {
            diesel::update(classes::table.find(found.id))
                .set(classes::source.eq(&class.source))
                .execute(db)?;
            plan.note("change", format!("{} is known in the records", found.name));
        }
        if found.name != class.name {
            diesel::update(classes::table.find(found.id))
                .set(classes::name.eq(&class.name))
                .execute(db)?;
            plan.note("change", format!("{} is now {}", found.name, class.name));
        }
        if found.over == class.active {
            over(db, found, !class.active, now, plan)?;
        }
    }
    if roster.all_classes {
        for gone in &known {
            let source = gone.source.as_deref();
            if source.is_some_and(|s| !seen.contains(s)) && !gone.over {
                over(db, gone, true, now, plan)?;
            }
        }
    }
    Ok(ids)
}

fn over(
    db: &mut SqliteConnection,
    class: &KnownClass,
    over: bool,
    now: i64,
    plan: &mut Plan,
) -> Result<(), StoreError> {
    diesel::update(classes::table.find(class.id))
        .set(classes::over_at.eq(over.then_some(now)))
        .execute(db)?;
    plan.note(if over { "end" } else { "begin" }, &class.name);
    Ok(())
}

fn enrollments(
    db: &mut SqliteConnection,
    roster: &Roster,
    (people, class_ids): (&BTreeMap<String, i32>, &BTreeMap<String, i32>),
    now: i64,
    plan: &mut Plan,
) -> Result<(), StoreError> {
    let all: Vec<(i32, i32, String)> = members::table.load(db)?;
    let of_records: BTreeSet<i32> = users::table
        .filter(users::source.is_not_null())
        .select(users::id)
        .load(db)?
        .into_iter()
        .collect();
    let name = |db: &mut SqliteConnection, class: i32, person: i32| -> QueryResult<String> {
        let who: String = users::table.find(person).select(users::display).first(db)?;
        let class: String = classes::table.find(class).select(classes::name).first(db)?;
        Ok(format!("{who}, {class}"))
    };
    let mut stays = BTreeSet::new();
    for one in &roster.enrollments {
        let found = class_ids.get(&one.class).zip(people.get(&one.person));
        let Some((class, person)) = found.map(|(c, p)| (*c, *p)) else {
            continue;
        };
        let is = all.iter().find(|(c, p, _)| (*c, *p) == (class, person));
        if !one.active {
            if is.is_some() && !roster.all_enrollments {
                plan.note("go", name(db, class, person)?);
                diesel::delete(members::table.find((class, person))).execute(db)?;
            }
            continue;
        }
        stays.insert((class, person));
        if is.is_some_and(|(_, _, role)| role == one.role.name()) {
            continue;
        }
        enrol(db, class, person, one.role)?;
        if one.role == Role::Student {
            give_whole_class(db, class, person, now)?;
        }
        plan.note(
            "join",
            format!("{} as {}", name(db, class, person)?, one.role.name()),
        );
    }
    if roster.all_enrollments {
        // Who was taken in by hand stays.
        let listed: BTreeSet<i32> = class_ids.values().copied().collect();
        for (class, person, _) in all {
            let theirs = listed.contains(&class) && of_records.contains(&person);
            if theirs && !stays.contains(&(class, person)) {
                plan.note("go", name(db, class, person)?);
                diesel::delete(members::table.find((class, person))).execute(db)?;
            }
        }
    }
    Ok(())
}

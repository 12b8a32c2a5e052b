//! Classes, and who is in them as what.

use diesel::prelude::*;
use diesel::sql_query;
use diesel::sql_types::{BigInt, Integer, Nullable, Text};

use crate::database::Store;
use crate::error::StoreError;
use crate::names::in_a_line;
use crate::roles::Role;
use crate::schema::{assigned, assignments, attempts, classes, members};

const LONGEST_NAME: usize = 60;

/// A class.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct ClassRow {
    pub id: i32,
    pub name: String,
    /// When it was over, in seconds of the epoch.
    pub over_at: Option<i64>,
    /// What whoever asks is in it.
    pub asker: Option<Role>,
}

/// Somebody in a class.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Member {
    pub class: i32,
    pub person: i32,
    pub display: String,
    pub role: Role,
    /// They have left the school.
    pub left: bool,
}

#[derive(QueryableByName)]
struct Row {
    #[diesel(sql_type = Integer)]
    id: i32,
    #[diesel(sql_type = Text)]
    name: String,
    #[diesel(sql_type = Nullable<BigInt>)]
    over_at: Option<i64>,
    #[diesel(sql_type = Nullable<Text>)]
    role: Option<String>,
}

impl Row {
    fn class(self) -> Result<ClassRow, StoreError> {
        Ok(ClassRow {
            id: self.id,
            name: self.name,
            over_at: self.over_at,
            asker: self.role.as_deref().map(Role::parse).transpose()?,
        })
    }
}

#[derive(QueryableByName)]
struct MemberRow {
    #[diesel(sql_type = Integer)]
    class_id: i32,
    #[diesel(sql_type = Integer)]
    user_id: i32,
    #[diesel(sql_type = Text)]
    display: String,
    #[diesel(sql_type = Text)]
    role: String,
    #[diesel(sql_type = Nullable<BigInt>)]
    retired_at: Option<i64>,
}

/// A class with what the asker, bound first, is in it.
const SELECT: &str = "
SELECT c.id, c.name, c.over_at, m.role FROM classes c
LEFT JOIN members m ON m.class_id = c.id AND m.user_id = ?1";

fn fits(name: &str) -> Result<&str, StoreError> {
    in_a_line(name, LONGEST_NAME).ok_or(StoreError::NoClassName(LONGEST_NAME))
}

impl Store {
    /// Makes a class, empty but for who teaches it.
    ///
    /// # Errors
    /// [`StoreError::NoClassName`], or when the database fails.
    pub fn add_class(&self, name: &str, teacher: Option<i32>, now: i64) -> Result<i32, StoreError> {
        let name = fits(name)?;
        let mut db = self.writing()?;
        db.immediate_transaction(|db| {
            let class: i32 = diesel::insert_into(classes::table)
                .values((classes::name.eq(name), classes::made_at.eq(now)))
                .returning(classes::id)
                .get_result(db)?;
            if let Some(teacher) = teacher {
                enrol(db, class, teacher, Role::Instructor)?;
            }
            Ok(class)
        })
    }

    /// Every class, those that are over last, with what a person is in each.
    ///
    /// # Errors
    /// When the database fails.
    pub fn classes(&self, asker: i32) -> Result<Vec<ClassRow>, StoreError> {
        let mut db = self.connection()?;
        let rows: Vec<Row> = sql_query(format!("{SELECT} ORDER BY c.over_at IS NOT NULL, c.name"))
            .bind::<Integer, _>(asker)
            .load(&mut db)?;
        rows.into_iter().map(Row::class).collect()
    }

    /// One class, with what a person is in it.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub fn class(&self, id: i32, asker: i32) -> Result<ClassRow, StoreError> {
        let mut db = self.connection()?;
        let row: Option<Row> = sql_query(format!("{SELECT} WHERE c.id = ?2"))
            .bind::<Integer, _>(asker)
            .bind::<Integer, _>(id)
            .get_result(&mut db)
            .optional()?;
        row.ok_or_else(|| missing("class", id))?.class()
    }

    /// Renames a class, and says whether it is over.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] or [`StoreError::NoClassName`].
    pub fn change_class(&self, id: i32, name: &str, over: Option<i64>) -> Result<(), StoreError> {
        let name = fits(name)?;
        let mut db = self.writing()?;
        let changed = diesel::update(classes::table.find(id))
            .set((classes::name.eq(name), classes::over_at.eq(over)))
            .execute(&mut db)?;
        match changed {
            0 => Err(missing("class", id)),
            _ => Ok(()),
        }
    }

    /// Who is in the classes: instructors, assistants and students, by name.
    ///
    /// # Errors
    /// When the database fails.
    pub fn members(&self) -> Result<Vec<Member>, StoreError> {
        let mut db = self.connection()?;
        let query = "
            SELECT m.class_id, m.user_id, m.role, u.display, u.retired_at
            FROM members m JOIN users u ON u.id = m.user_id ORDER BY u.display, u.id";
        let rows: Vec<MemberRow> = sql_query(query).load(&mut db)?;
        let member = |row: MemberRow| {
            Ok(Member {
                class: row.class_id,
                person: row.user_id,
                display: row.display,
                role: Role::parse(&row.role)?,
                left: row.retired_at.is_some(),
            })
        };
        rows.into_iter().map(member).collect()
    }

    /// Takes somebody into a class, or makes them something else in it. A student is given what the whole class was.
    ///
    /// # Errors
    /// When there is no such class or person, or the database fails.
    pub fn enrol(&self, class: i32, person: i32, role: Role, now: i64) -> Result<(), StoreError> {
        let mut db = self.writing()?;
        db.immediate_transaction(|db| {
            enrol(db, class, person, role)?;
            match role {
                Role::Student => give_whole_class(db, class, person, now),
                _ => Ok(()),
            }
        })
    }

    /// Takes somebody out of a class. What they did stays; what they have not begun is taken back.
    ///
    /// # Errors
    /// When the database fails.
    pub fn leave(&self, class: i32, person: i32) -> Result<(), StoreError> {
        let mut db = self.writing()?;
        db.immediate_transaction(|db| {
            diesel::delete(members::table.find((class, person))).execute(db)?;
            sql_query(
                "DELETE FROM attempts WHERE student_id = ?1 AND id NOT IN (SELECT attempt_id FROM steps)
                 AND assignment_id IN (SELECT id FROM assignments WHERE class_id = ?2)",
            )
            .bind::<Integer, _>(person)
            .bind::<Integer, _>(class)
            .execute(db)?;
            Ok(())
        })
    }
}

/// Gives a student what the whole class was given.
pub(crate) fn give_whole_class(
    db: &mut SqliteConnection,
    class: i32,
    student: i32,
    now: i64,
) -> Result<(), StoreError> {
    let whole: Vec<(i32, i32)> = assignments::table
        .filter(assignments::class_id.eq(class))
        .filter(assignments::whole_class)
        .select((assignments::id, assignments::lesson_id))
        .load(db)?;
    for assignment in whole {
        give_one(db, assignment, student, now)?;
    }
    Ok(())
}

pub(crate) fn enrol(
    db: &mut SqliteConnection,
    class: i32,
    person: i32,
    role: Role,
) -> Result<(), StoreError> {
    let is = members::role.eq(role.name());
    diesel::insert_into(members::table)
        .values((members::class_id.eq(class), members::user_id.eq(person), is))
        .on_conflict((members::class_id, members::user_id))
        .do_update()
        .set(is)
        .execute(db)?;
    Ok(())
}

/// Gives an assignment, with its lesson, to one student, once; the number of their first attempt.
pub(crate) fn give_one(
    db: &mut SqliteConnection,
    (assignment, lesson): (i32, i32),
    student: i32,
    now: i64,
) -> Result<i32, StoreError> {
    diesel::insert_or_ignore_into(assigned::table)
        .values((
            assigned::assignment_id.eq(assignment),
            assigned::user_id.eq(student),
        ))
        .execute(db)?;
    diesel::insert_or_ignore_into(attempts::table)
        .values((
            attempts::lesson_id.eq(lesson),
            attempts::student_id.eq(student),
            attempts::given_at.eq(now),
            attempts::assignment_id.eq(assignment),
            attempts::no.eq(1),
        ))
        .execute(db)?;
    Ok(attempts::table
        .filter(attempts::assignment_id.eq(assignment))
        .filter(attempts::student_id.eq(student))
        .filter(attempts::no.eq(1))
        .select(attempts::id)
        .first(db)?)
}

pub(crate) fn missing(what: &'static str, id: i32) -> StoreError {
    StoreError::NotFound {
        what,
        id: id.to_string(),
    }
}

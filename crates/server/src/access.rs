//! What somebody may do with an attempt, a class or another person. A class is its own instructors' and assistants';
//! a student sees their own; who looks after the people sees nothing of a class by that.

use cimento_diagnosis::lesson::Purpose;
use cimento_store::{AttemptRow, ClassRow, Given, Role, SheetsShow, User};

use crate::problem::Problem;
use crate::state::AppState;

/// What somebody has to do with an attempt.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) struct Access {
    /// It is theirs to work on.
    pub own: bool,
    /// They see it and its sheet at any time: they teach or help in its class, or try a lesson themselves.
    pub sees: bool,
    /// They give its marks.
    pub marks: bool,
}

/// What somebody has to do with an attempt, if anything.
pub(crate) fn to_attempt(row: &AttemptRow, user: &User) -> Option<Access> {
    let own = row.student_id == user.id;
    let tries = own && row.given.is_none() && user.roles.has(Role::Instructor);
    let asker = row.given.as_ref().and_then(|g| g.asker);
    let teaches = asker == Some(Role::Instructor) || tries;
    let access = Access {
        own,
        sees: teaches || asker == Some(Role::Assistant),
        marks: teaches,
    };
    (access.own || access.sees).then_some(access)
}

/// What an attempt belongs to, for who gives its marks.
pub(crate) fn given_by<'r>(row: &'r AttemptRow, user: &User) -> Result<&'r Given, Problem> {
    let marks = to_attempt(row, user).is_some_and(|access| access.marks);
    let given = row.given.as_ref().filter(|_| marks);
    given.ok_or_else(|| Problem::not_found(&format!("attempt {} in a class of yours", row.id)))
}

/// Its student sees the sheet of what is handed in.
pub(crate) fn sheet_shows(row: &AttemptRow, purpose: Purpose, now: i64) -> bool {
    let Some(given) = &row.given else {
        return true;
    };
    let released = given.released_at.is_some();
    purpose == Purpose::Practice
        || released
        || match given.terms.sheets {
            SheetsShow::HandedIn => true,
            SheetsShow::AllDone => given.all_done || closed(given, now),
            SheetsShow::Released => false,
        }
}

/// Nothing is done in it any more.
pub(crate) fn closed(given: &Given, now: i64) -> bool {
    given.terms.closes_at.is_some_and(|at| at <= now)
}

/// Its student works on it, or is going to.
pub(crate) fn is_to_do(row: &AttemptRow, now: i64) -> bool {
    let given = row.given.as_ref();
    !row.handed_in && given.is_some_and(|g| !g.excused && !closed(g, now))
}

/// It is not given out yet.
pub(crate) fn unopened(given: &Given, now: i64) -> bool {
    given.terms.opens_at.is_some_and(|at| at > now)
}

/// A class that somebody teaches.
pub(crate) fn taught(s: &AppState, class: i32, user: &User) -> Result<ClassRow, Problem> {
    let found = s.store.class(class, user.id)?;
    match found.asker {
        Some(Role::Instructor) => Ok(found),
        // Whether there is such a class is its people's to know.
        _ => Err(Problem::not_found(&format!("class {class} of yours"))),
    }
}

/// A class that somebody teaches, or whose people they look after.
pub(crate) fn peopled(s: &AppState, class: i32, user: &User) -> Result<ClassRow, Problem> {
    match user.roles.has(Role::Administrator) {
        true => Ok(s.store.class(class, user.id)?),
        false => taught(s, class, user),
    }
}

/// Somebody whom one looks after: administrators anybody, instructors the students of their classes.
pub(crate) fn looked_after(s: &AppState, person: i32, user: &User) -> Result<User, Problem> {
    let found = s.store.person(person);
    if user.roles.has(Role::Administrator) {
        return Ok(found?);
    }
    let of_theirs = {
        let members = s.store.members()?;
        let is = |class, person, role| {
            let same = |m: &&cimento_store::Member| (m.class, m.person) == (class, person);
            members.iter().find(same).is_some_and(|m| m.role == role)
        };
        let mut classes = members.iter().filter(|m| m.person == person);
        classes.any(|m| m.role == Role::Student && is(m.class, user.id, Role::Instructor))
    };
    match found {
        Ok(found) if of_theirs && found.roles == Role::Student.into() => Ok(found),
        Ok(found) if !found.roles.has(Role::Student) => Err(Problem::forbidden(
            "a colleague's password is changed by its owner, or by an administrator",
        )),
        _ => Err(Problem::not_found("such student in your classes")),
    }
}

#[cfg(test)]
mod tests {
    use cimento_store::{Roles, Terms};

    use super::*;

    fn somebody(id: i32, role: Role) -> User {
        User {
            id,
            name: String::new(),
            display: String::new(),
            roles: Roles::from(role),
            retired_at: None,
        }
    }

    fn attempt(given: Option<Given>) -> AttemptRow {
        AttemptRow {
            id: 1,
            lesson_id: 1,
            lesson_title: String::new(),
            student_id: 7,
            student: String::new(),
            given_at: 0,
            steps: 0,
            handed_in: true,
            no: 1,
            given,
            partner: None,
        }
    }

    fn given(sheets: SheetsShow, asker: Option<Role>) -> Given {
        Given {
            assignment: 1,
            class: 1,
            class_name: String::new(),
            terms: Terms {
                sheets,
                closes_at: Some(100),
                ..Terms::default()
            },
            released_at: None,
            paused: false,
            paused_passed_s: None,
            all_done: false,
            extra_minutes: 0.0,
            excused: false,
            asker,
        }
    }

    /// What one is in the class counts, and not what one is in the school.
    #[test]
    fn a_role_in_the_class_is_what_counts() {
        let sees = |role, asker| {
            let row = attempt(Some(given(SheetsShow::AllDone, asker)));
            to_attempt(&row, &somebody(1, role)).map(|a| (a.own, a.sees, a.marks))
        };
        assert_eq!(sees(Role::Instructor, None), None);
        assert_eq!(sees(Role::Administrator, None), None);
        let teaches = Some((false, true, true));
        assert_eq!(sees(Role::Instructor, Some(Role::Instructor)), teaches);
        let helps = Some((false, true, false));
        assert_eq!(sees(Role::Instructor, Some(Role::Assistant)), helps);
        assert_eq!(sees(Role::Student, Some(Role::Student)), None);
    }

    /// An attempt that belongs to no class is an instructor's trial, and to a student still only their work.
    #[test]
    fn a_trial_is_an_instructor_s() {
        let own = |role| {
            let access = to_attempt(&attempt(None), &somebody(7, role));
            access.map(|a| (a.own, a.sees, a.marks))
        };
        assert_eq!(own(Role::Instructor), Some((true, true, true)));
        assert_eq!(own(Role::Student), Some((true, false, false)));
    }

    #[test]
    fn a_sheet_waits_as_its_terms_say() {
        let shows = |sheets, at| {
            let row = attempt(Some(given(sheets, None)));
            sheet_shows(&row, Purpose::Marks, at)
        };
        assert!(shows(SheetsShow::HandedIn, 1));
        assert!(!shows(SheetsShow::AllDone, 99) && shows(SheetsShow::AllDone, 100));
        assert!(!shows(SheetsShow::Released, 1000));
        let mut released = given(SheetsShow::Released, None);
        released.released_at = Some(5);
        assert!(sheet_shows(&attempt(Some(released)), Purpose::Marks, 6));
        let practice = attempt(Some(given(SheetsShow::Released, None)));
        assert!(sheet_shows(&practice, Purpose::Practice, 1));
    }
}

//! What can go wrong, each in a sentence a person can act on.

use thiserror::Error;

/// Why something was not stored or found.
#[derive(Debug, Error)]
pub enum StoreError {
    #[error("there is no {what} {id}")]
    NotFound { what: &'static str, id: String },
    #[error("the attempt has moved on: it has {have} steps, not {expected}; load it again")]
    MovedOn { have: usize, expected: usize },
    #[error(
        "somebody else has changed this circuit: it is at version {have}, yours was made from {version}; load it again, your text is still here"
    )]
    ChangedElsewhere { have: i32, version: i32 },
    #[error("only a circuit that was put away can be deleted: put it away first")]
    NotPutAway,
    #[error("the name {0} is taken")]
    NameTaken(String),
    #[error(
        "a person needs a name to sign in with, of at most {0} characters, and one to be shown by"
    )]
    NoName(usize),
    #[error("a PIN has {0} to {1} digits")]
    NoPin(usize, usize),
    #[error("somebody else has changed this lesson: it is at version {0}; load it again")]
    LessonMovedOn(i32),
    #[error("rules need a name of at most {0} characters, and a school keeps {1} at most")]
    NoRuleSet(usize, i64),
    /// Longest name, and most of them.
    #[error(
        "a group: expected a name of at most {0} letters, at least one student, and at most {1} groups in a class"
    )]
    NoGroup(usize, i64),
    #[error("the name of a folder has at most {0} characters")]
    NoFolder(usize),
    #[error("expected a word of at most {0} characters")]
    NoWord(usize),
    #[error("a second look at this line was asked for before: one is answered, once")]
    AskedBefore,
    #[error("nobody waits for an answer on this line: load the sheet again")]
    Answered,
    #[error(
        "only a student can be erased or merged, into another one: lessons and marks stand in the names of colleagues, who are let leave instead"
    )]
    NotAStudent,
    #[error("this link holds no more: it is used once, within three days; ask for another")]
    NoLink,
    #[error("a room has {0} columns and {1} rows at most")]
    NoSeat(i32, i32),
    #[error("a class needs a name of at most {0} characters")]
    NoClassName(usize),
    #[error("a course and its chapters need names of at most {0} characters")]
    NoCourseTitle(usize),
    #[error("a course has at most {0} lessons, each of them once")]
    NoCourse(usize),
    #[error("what a course is about has at most {0} characters")]
    NoAbout(usize),
    #[error("somebody has begun it: it can be closed, and not taken back")]
    Begun,
    #[error("a school needs a name of at most {0} characters")]
    NoSchoolName(usize),
    #[error(
        "a school keeps somebody who looks after its people: make another person administrator first"
    )]
    LastAdministrator,
    #[error("a password needs at least {0} characters")]
    WeakPassword(usize),
    #[error("the database {path} cannot be opened: {why}")]
    CannotOpen { path: String, why: String },
    #[error(
        "{0} was written by a newer program: start that one, or put the copy back that was made before the upgrade"
    )]
    Newer(String),
    #[error("the database {path} was moved or deleted while the server worked on it; {rescued}")]
    Gone { path: String, rescued: String },
    #[error(
        "the disk is full: nothing more can be stored until there is room on it; what was stored is safe"
    )]
    Full,
    #[error(
        "the school's file cannot be written any more: whoever runs the server has to let it; what was stored is safe"
    )]
    ReadOnly,
    #[error("it is about somebody or something that is not there, or not any more: load it again")]
    NothingThere,
    #[error("another program works on {0}: end it first, then do this again")]
    InUse(String),
    #[error("the database is in use by another program: try again when it is done")]
    Locked,
    #[error("too many are asking at once: try again in a moment")]
    Busy,
    #[error("the database holds something that cannot be read: {0}")]
    Damaged(String),
    #[error("the database failed: {0}")]
    Database(String),
}

impl From<diesel::result::Error> for StoreError {
    fn from(e: diesel::result::Error) -> Self {
        let text = e.to_string();
        if text.contains("database is locked") {
            Self::Locked
        } else if text.contains("FOREIGN KEY constraint failed") {
            Self::NothingThere
        } else if text.contains("disk is full") {
            Self::Full
        } else if text.contains("readonly") || text.contains("disk I/O error") {
            Self::ReadOnly
        } else if text.contains("malformed") || text.contains("not a database") {
            Self::Damaged(text)
        } else {
            Self::Database(text)
        }
    }
}

impl From<diesel::r2d2::PoolError> for StoreError {
    fn from(_: diesel::r2d2::PoolError) -> Self {
        Self::Busy
    }
}

impl From<serde_json::Error> for StoreError {
    fn from(e: serde_json::Error) -> Self {
        Self::Damaged(e.to_string())
    }
}

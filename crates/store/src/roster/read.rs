//! Reading the files. Each mistake is told with its file and line, and nothing is taken of files that have one.

use std::collections::{BTreeMap, BTreeSet};

use crate::roles::Role;

/// What is wrong, and where.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Finding {
    pub file: String,
    /// The first line is 1; 0 for the file as a whole.
    pub line: u64,
    pub message: String,
}

/// People, classes and who is in which, as the files say.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Roster {
    pub(super) people: Vec<Person>,
    pub(super) classes: Vec<Class>,
    pub(super) enrollments: Vec<Enrollment>,
    /// Of whom and of what it lists all, so that what is missing is gone.
    pub(super) all_people: bool,
    pub(super) all_classes: bool,
    pub(super) all_enrollments: bool,
    /// What was left aside, in a sentence each.
    pub left_aside: Vec<String>,
}

#[derive(Debug, Clone, PartialEq, Eq)]
pub(super) struct Person {
    pub(super) source: String,
    /// To sign in with; may be empty.
    pub(super) name: String,
    pub(super) display: String,
    pub(super) role: Role,
    /// They are there.
    pub(super) active: bool,
}

#[derive(Debug, Clone, PartialEq, Eq)]
pub(super) struct Class {
    pub(super) source: String,
    pub(super) name: String,
    /// It goes on.
    pub(super) active: bool,
}

#[derive(Debug, Clone, PartialEq, Eq)]
pub(super) struct Enrollment {
    pub(super) class: String,
    pub(super) person: String,
    pub(super) role: Role,
    pub(super) active: bool,
}

/// A row of a file by the names of its columns.
struct Row<'a> {
    file: &'a str,
    line: u64,
    cells: BTreeMap<String, String>,
}

impl Row<'_> {
    fn get(&self, column: &str) -> &str {
        self.cells.get(column).map_or("", String::as_str)
    }

    /// It is not to be deleted.
    fn stays(&self) -> bool {
        self.get("status") != "tobedeleted"
    }

    fn wrong(&self, message: String) -> Finding {
        Finding {
            file: self.file.to_owned(),
            line: self.line,
            message,
        }
    }
}

/// Reads a file that has to have some columns; what is wrong is added to the findings.
fn rows<'a>(
    files: &'a BTreeMap<String, String>,
    file: &'a str,
    columns: &[&str],
    findings: &mut Vec<Finding>,
) -> Vec<Row<'a>> {
    let Some(text) = files.get(file) else {
        return Vec::new();
    };
    let whole = |message: String| Finding {
        file: file.to_owned(),
        line: 0,
        message,
    };
    let text = text.trim_start_matches('\u{feff}');
    let mut reader = csv::ReaderBuilder::new()
        .trim(csv::Trim::All)
        .from_reader(text.as_bytes());
    let names = match reader.headers() {
        Ok(names) => names.clone(),
        Err(e) => {
            findings.push(whole(format!("is no CSV: {e}")));
            return Vec::new();
        }
    };
    for column in columns {
        if !names.iter().any(|n| n == *column) {
            findings.push(whole(format!("expected a column {column}")));
        }
    }
    let mut out = Vec::new();
    for record in reader.records() {
        match record {
            Ok(record) => out.push(Row {
                file,
                line: record.position().map_or(0, csv::Position::line),
                cells: names
                    .iter()
                    .map(str::to_owned)
                    .zip(record.iter().map(str::to_owned))
                    .collect(),
            }),
            Err(e) => findings.push(Finding {
                line: e.position().map_or(0, csv::Position::line),
                ..whole(format!("is no CSV: {e}"))
            }),
        }
    }
    out
}

/// The role of a word in the files; none for those who have nothing to do here.
fn role(word: &str) -> Option<Option<Role>> {
    Some(match word {
        "student" => Some(Role::Student),
        "teacher" => Some(Role::Instructor),
        "aide" | "proctor" => Some(Role::Assistant),
        // Whoever looks after the people is made so by hand.
        "administrator" | "guardian" | "parent" | "relative" => None,
        _ => return None,
    })
}

impl Roster {
    /// Reads files by their names. A day, such as 2026-11-28, tells which classes are over.
    ///
    /// # Errors
    /// Everything that is wrong.
    pub fn read(files: &BTreeMap<String, String>, today: &str) -> Result<Self, Vec<Finding>> {
        let mut findings = Vec::new();
        for file in ["users.csv", "classes.csv", "enrollments.csv"] {
            if !files.contains_key(file) {
                findings.push(Finding {
                    file: file.to_owned(),
                    line: 0,
                    message: "is missing".to_owned(),
                });
            }
        }
        let delta: BTreeSet<String> = rows(files, "manifest.csv", &[], &mut findings)
            .iter()
            .filter(|row| row.get("value") == "delta")
            .map(|row| row.get("propertyName").to_owned())
            .collect();
        let mut roster = Self {
            all_people: !delta.contains("file.users"),
            all_classes: !delta.contains("file.classes"),
            all_enrollments: !delta.contains("file.enrollments"),
            ..Self::default()
        };
        let orgs = rows(files, "orgs.csv", &["sourcedId"], &mut findings);
        let orgs: BTreeSet<&str> = orgs.iter().map(|row| row.get("sourcedId")).collect();
        let asked = files.contains_key("orgs.csv") && !delta.contains("file.orgs");
        let belongs = |row: &Row<'_>, column: &str, findings: &mut Vec<Finding>| {
            let named = row.get(column).split(',').map(str::trim);
            for org in named.filter(|org| asked && !org.is_empty() && !orgs.contains(org)) {
                findings.push(row.wrong(format!("{column}: there is no {org} in orgs.csv")));
            }
        };
        let columns = ["sourcedId", "role", "username", "givenName", "familyName"];
        let mut seen = BTreeSet::new();
        let mut names = BTreeSet::new();
        let mut aside = BTreeSet::new();
        for row in rows(files, "users.csv", &columns, &mut findings) {
            belongs(&row, "orgSourcedIds", &mut findings);
            let source = row.get("sourcedId").to_owned();
            let display = format!("{} {}", row.get("givenName"), row.get("familyName"));
            let display = display.trim().to_owned();
            let name = row.get("username").to_lowercase();
            if source.is_empty() || display.is_empty() {
                let text = "expected a sourcedId and a name".to_owned();
                findings.push(row.wrong(text));
            } else if !seen.insert(source.clone()) {
                findings.push(row.wrong(format!("{source} is there twice")));
            } else if !name.is_empty() && !names.insert(name.clone()) {
                findings.push(row.wrong(format!("the username {name} is there twice")));
            } else {
                match role(row.get("role")) {
                    None => {
                        let found = row.get("role");
                        findings.push(row.wrong(format!(
                            "role: expected student, teacher, aide or proctor, found {found}"
                        )));
                    }
                    Some(None) => {
                        let word = row.get("role");
                        roster.left_aside.push(format!("{display}, {word}"));
                        aside.insert(source);
                    }
                    Some(Some(role)) => roster.people.push(Person {
                        source,
                        name,
                        display,
                        role,
                        active: row.stays() && row.get("enabledUser") != "false",
                    }),
                }
            }
        }
        // A class whose terms have all ended is over.
        let ends: BTreeMap<String, String> = rows(
            files,
            "academicSessions.csv",
            &["sourcedId", "endDate"],
            &mut findings,
        )
        .iter()
        .map(|row| {
            (
                row.get("sourcedId").to_owned(),
                row.get("endDate").to_owned(),
            )
        })
        .collect();
        let mut classes = BTreeSet::new();
        for row in rows(files, "classes.csv", &["sourcedId", "title"], &mut findings) {
            belongs(&row, "schoolSourcedId", &mut findings);
            let (source, name) = (row.get("sourcedId").to_owned(), row.get("title").to_owned());
            if source.is_empty() || name.is_empty() {
                findings.push(row.wrong("expected a sourcedId and a title".to_owned()));
                continue;
            }
            if !classes.insert(source.clone()) {
                findings.push(row.wrong(format!("{source} is there twice")));
                continue;
            }
            let terms = row.get("termSourcedIds").split(',').map(str::trim);
            let terms: Vec<Option<&String>> = terms
                .filter(|t| !t.is_empty())
                .map(|t| ends.get(t))
                .collect();
            let ended = |end: &Option<&String>| end.is_some_and(|day| day.as_str() < today);
            roster.classes.push(Class {
                source,
                name,
                active: row.stays() && (terms.is_empty() || !terms.iter().all(ended)),
            });
        }
        let columns = ["classSourcedId", "userSourcedId", "role"];
        for row in rows(files, "enrollments.csv", &columns, &mut findings) {
            let (class, person) = (row.get("classSourcedId"), row.get("userSourcedId"));
            if roster.all_classes && !classes.contains(class) {
                findings.push(row.wrong(format!("there is no {class} in classes.csv")));
            } else if roster.all_people && !seen.contains(person) {
                findings.push(row.wrong(format!("there is no {person} in users.csv")));
            } else if !aside.contains(person) {
                match role(row.get("role")) {
                    Some(Some(role)) => roster.enrollments.push(Enrollment {
                        class: class.to_owned(),
                        person: person.to_owned(),
                        role,
                        active: row.stays(),
                    }),
                    Some(None) => roster
                        .left_aside
                        .push(format!("{person} in {class} as {}", row.get("role"))),
                    None => {
                        let found = row.get("role");
                        findings.push(row.wrong(format!(
                            "role: expected student, teacher, aide or proctor, found {found}"
                        )));
                    }
                }
            }
        }
        match findings.is_empty() {
            true => Ok(roster),
            false => Err(findings),
        }
    }
}

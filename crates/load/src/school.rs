//! A school in a new database: an instructor, students, and lessons given to them.

use std::path::{Path, PathBuf};
use std::sync::Arc;
use std::sync::atomic::{AtomicUsize, Ordering};

use cimento_model::circuit::CircuitDoc;
use cimento_store::{Role, Store};
use reqwest::Method;
use serde_json::{Value, json};
use tempfile::TempDir;
use tokio::sync::Mutex;

use crate::person::{Measured, PASSWORD, Person};
use crate::server::Server;
use crate::{Failure, Program};

pub fn name(nth: usize) -> String {
    format!("student{nth}")
}

/// People and circuits; the circuits are numbered from 1 in the order of the files.
pub fn found(
    database: &Path,
    folder: &Path,
    files: &[&str],
    students: usize,
) -> Result<(), Failure> {
    let store = Store::open(database)?;
    let teacher = store.add_user("instructor", "Instructor", Role::Instructor, PASSWORD)?;
    for file in files {
        let text = std::fs::read_to_string(folder.join(format!("{file}.json")))?;
        let doc: CircuitDoc = serde_json::from_str(&text)?;
        store.add_circuit(&doc, 0)?;
    }
    // Each password is hashed at length: on all cores.
    let next = Arc::new(AtomicUsize::new(0));
    std::thread::scope(|s| {
        for _ in 0..std::thread::available_parallelism().map_or(1, usize::from) {
            let (store, next) = (store.clone(), Arc::clone(&next));
            s.spawn(move || {
                loop {
                    let nth = next.fetch_add(1, Ordering::Relaxed);
                    if nth >= students {
                        return;
                    }
                    if let Err(e) = store.add_user(&name(nth), &name(nth), Role::Student, PASSWORD)
                    {
                        eprintln!("student {nth}: {e}");
                    }
                }
            });
        }
    });
    let class = store.add_class("Everybody", Some(teacher.id), 0)?;
    for student in store.students()? {
        store.enrol(class, student.id, Role::Student, 0)?;
    }
    Ok(())
}

/// A school in a folder of its own, with its server and its instructor at a browser.
pub struct School {
    pub server: Server,
    pub instructor: Person,
    pub measured: Arc<Mutex<Measured>>,
    pub database: PathBuf,
    _folder: TempDir,
}

impl School {
    /// Where a person may ask so often a second, if not as usual.
    pub async fn open(
        program: &Program,
        circuits: &[&str],
        students: usize,
        rate: Option<f64>,
    ) -> Result<Self, Failure> {
        let folder = tempfile::tempdir()?;
        let database = folder.path().join("school.db");
        found(&database, &program.circuits, circuits, students)?;
        let server = Server::start(program, &database, rate).await?;
        let measured = Arc::new(Mutex::new(Measured::default()));
        let instructor = Person::new(&server.url, &measured)?;
        instructor
            .sign_in("instructor")
            .await
            .ok_or("no instructor")?;
        Ok(Self {
            server,
            instructor,
            measured,
            database,
            _folder: folder,
        })
    }

    /// A student at a browser of their own, with the numbers of what they were given, the first first.
    pub async fn student(&self, nth: usize) -> Result<(Person, Vec<i64>), Failure> {
        let person = Person::new(&self.server.url, &self.measured)?;
        person.sign_in(&name(nth)).await.ok_or("nobody signed in")?;
        let own = person.ask("list", Method::GET, "/api/attempts", None).await;
        let own = own.ok_or("no attempts")?;
        let own = own.as_array().into_iter().flatten();
        let mut ids: Vec<i64> = own.filter_map(|a| a["id"].as_i64()).collect();
        ids.sort_unstable();
        Ok((person, ids))
    }
}

/// A lesson: a circuit with an open at a place.
pub struct Lesson {
    pub title: &'static str,
    pub circuit: usize,
    pub place: &'static str,
    /// For marks, or for practice.
    pub purpose: &'static str,
    pub scope: bool,
}

impl Lesson {
    /// One that is marked.
    pub fn marked(title: &'static str, circuit: usize, place: &'static str) -> Self {
        Self {
            title,
            circuit,
            place,
            purpose: "marks",
            scope: false,
        }
    }

    /// The same with the oscilloscope.
    pub fn with_scope(self) -> Self {
        Self {
            scope: true,
            ..self
        }
    }

    /// The same without marks and with hints.
    pub fn practice(self) -> Self {
        Self {
            purpose: "practice",
            ..self
        }
    }
}

/// A lesson as it was made.
pub async fn make(instructor: &Person, lesson: &Lesson) -> Result<Value, Failure> {
    let lesson = json!({"title": lesson.title, "complaint": "It does not go.", "circuit": lesson.circuit,
        "faults": [{"place": lesson.place, "mode": "open"}], "purpose": lesson.purpose,
        "predictions": false, "rules": {"scope": lesson.scope}});
    let made = instructor
        .ask("lesson", Method::POST, "/api/lessons", Some(&lesson))
        .await
        .ok_or("no lesson")?;
    Ok(made)
}

/// A lesson given to some students by number.
pub async fn give(
    instructor: &Person,
    lesson: &Lesson,
    students: impl Iterator<Item = usize>,
) -> Result<(), Failure> {
    let made = make(instructor, lesson).await?;
    let classes = instructor
        .ask("classes", Method::GET, "/api/classes", None)
        .await
        .ok_or("no classes")?;
    let id_of = |nth: usize| {
        let all = classes[0]["members"].as_array().into_iter().flatten();
        let mut found = all.filter(|m| m["display"] == name(nth).as_str());
        found.next().map(|m| m["id"].clone())
    };
    let ids: Vec<Value> = students.filter_map(id_of).collect();
    let give = json!({"class": 1, "lesson": made["id"], "students": ids});
    instructor
        .ask("give", Method::POST, "/api/assignments", Some(&give))
        .await
        .ok_or("not given")?;
    Ok(())
}

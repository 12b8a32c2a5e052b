//! `cimento demo`: the demo school, made when its database is new.

use std::path::{Path, PathBuf};

use cimento_diagnosis::lesson::{Lesson, LessonDoc};
use cimento_model::circuit::{CircuitDoc, read_json};
use cimento_parts::build_circuit;
use cimento_store::{Role, Store};
use clap::Args;
use serde::Deserialize;

use super::serve::{open, run};
use super::settings::{Kept, Serving};
use super::{Failure, files};
use crate::clock::now;

#[derive(Args)]
pub(super) struct DemoArgs {
    #[command(flatten)]
    kept: Kept,
    #[command(flatten)]
    serving: Serving,
    /// Folder of the demo school.
    #[arg(long, default_value = "demo")]
    school: PathBuf,
}

/// The demo school: who is in it and what they are given.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct School {
    instructors: Vec<Person>,
    students: Vec<Person>,
    circuits: Vec<String>,
    /// Layouts of the circuits by shape.
    layouts: String,
    lessons: Vec<Given>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Person {
    name: String,
    display: String,
    password: String,
}

/// A lesson file whose circuit is named by file, and the students it is given to.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Given {
    lesson: String,
    circuit: String,
    students: Vec<String>,
}

pub(super) fn demo(args: &DemoArgs) -> Result<(), Failure> {
    let database = args.kept.database()?;
    let settings = args.kept.settings(&args.serving)?;
    let store = open(&database)?;
    let school: School = read(&args.school.join("school.json"))?;
    let empty = store.is_empty();
    if empty.map_err(|e| Failure::BadInput(e.to_string()))? {
        println!("Making the demo school in {} …", database.display());
        fill(&store, &args.school, &school)?;
    }
    let people = school.instructors.iter().chain(&school.students);
    let hints: Vec<String> = people
        .map(|p| format!("{} / {}", p.name, p.password))
        .collect();
    run(settings, store, "warn", &hints)
}

fn read<T: serde::de::DeserializeOwned>(file: &Path) -> Result<T, Failure> {
    let text = files::text(file)?;
    read_json(&text).map_err(|e| Failure::BadInput(format!("{}: {e}", file.display())))
}

fn fill(store: &Store, folder: &Path, school: &School) -> Result<(), Failure> {
    let stored = |e: cimento_store::StoreError| Failure::BadInput(e.to_string());
    let refused = |file: &str| {
        let file = file.to_owned();
        move |e: cimento_model::circuit::Refused| Failure::BadInput(format!("{file}: {e}"))
    };
    let mut author = None;
    for p in &school.instructors {
        let user = store
            .add_user(&p.name, &p.display, Role::Instructor, &p.password)
            .map_err(stored)?;
        author.get_or_insert(user.id);
    }
    let mut students = Vec::new();
    for p in &school.students {
        students.push(
            store
                .add_user(&p.name, &p.display, Role::Student, &p.password)
                .map_err(stored)?,
        );
    }
    for file in &school.circuits {
        let doc: CircuitDoc = read(&folder.join(file))?;
        build_circuit(doc.clone()).map_err(refused(file))?;
        store.add_circuit(&doc, now()).map_err(stored)?;
    }
    let layouts: std::collections::BTreeMap<String, serde_json::Value> =
        read(&folder.join(&school.layouts))?;
    for (shape, layout) in layouts {
        store
            .add_layout(&shape, &layout.to_string())
            .map_err(stored)?;
    }
    for given in &school.lessons {
        let mut doc: serde_json::Value = read(&folder.join(&given.lesson))?;
        let circuit: serde_json::Value = read(&folder.join(&given.circuit))?;
        doc["circuit"] = circuit;
        let doc: LessonDoc = read_json(&doc.to_string()).map_err(refused(&given.lesson))?;
        Lesson::new(doc.clone()).map_err(refused(&given.lesson))?;
        let lesson = store
            .add_lesson(&doc, author.unwrap_or(1), now())
            .map_err(stored)?;
        let to: Vec<i32> = students
            .iter()
            .filter(|s| given.students.contains(&s.name))
            .map(|s| s.id)
            .collect();
        store.give(lesson, &to, now()).map_err(stored)?;
    }
    Ok(())
}

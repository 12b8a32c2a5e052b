//! `cimento demo`: the demo school, made when its database is new.

use std::path::{Path, PathBuf};

use cimento_diagnosis::lesson::{Lesson, LessonDoc};
use cimento_model::circuit::{CircuitDoc, read_json};
use cimento_parts::build_circuit;
use cimento_store::{NewPerson, Role, SheetsShow, Store, Terms, To};
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
    name: String,
    /// The first of them looks after the people too.
    instructors: Vec<Person>,
    students: Vec<Person>,
    /// The class that all are in.
    class: String,
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
    let mut class = None;
    for p in &school.instructors {
        let roles = [Role::Instructor, Role::Administrator];
        let roles = roles.into_iter().take(if class.is_none() { 2 } else { 1 });
        let new = NewPerson {
            name: p.name.clone(),
            display: p.display.clone(),
            roles: roles.collect(),
            password: p.password.clone(),
        };
        let Some((class, _)) = class else {
            let user = store
                .open_school(&school.name, &new, now())
                .map_err(stored)?;
            let made = store.add_class(&school.class, Some(user.id), now());
            class = Some((made.map_err(stored)?, user.id));
            continue;
        };
        for user in store.add_people(&[new]).map_err(stored)? {
            store
                .enrol(class, user.id, Role::Instructor, now())
                .map_err(stored)?;
        }
    }
    let (class, author) =
        class.ok_or_else(|| Failure::BadInput("school.json names no instructor".to_owned()))?;
    let mut students = Vec::new();
    for p in &school.students {
        let user = store
            .add_user(&p.name, &p.display, Role::Student, &p.password)
            .map_err(stored)?;
        store
            .enrol(class, user.id, Role::Student, now())
            .map_err(stored)?;
        students.push(user);
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
        let lesson = store.add_lesson(&doc, author, now()).map_err(stored)?;
        let to: Vec<i32> = students
            .iter()
            .filter(|s| given.students.contains(&s.name))
            .map(|s| s.id)
            .collect();
        // Who looks around sees a sheet as soon as they have handed in.
        let terms = Terms {
            sheets: SheetsShow::HandedIn,
            ..Terms::default()
        };
        store
            .assign(class, lesson, To::Some(&to), &terms, now())
            .map_err(stored)?;
    }
    Ok(())
}

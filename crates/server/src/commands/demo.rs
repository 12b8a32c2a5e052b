//! `cimento demo`: the demo school, made when its database is new.

use std::path::{Path, PathBuf};

use cimento_diagnosis::lesson::{Lesson, LessonDoc};
use cimento_model::circuit::{CircuitDoc, read_json};
use cimento_parts::build_circuit;
use cimento_store::{Hold, NewPerson, Role, SheetsShow, Store, Terms, To, hold};
use clap::Args;
use serde::Deserialize;

use super::roster::read_roster;
use super::serve::{run, to_serve};
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
    /// Begin anew: the database is thrown away first, unless a server works on it.
    #[arg(long)]
    reset: bool,
}

/// The demo school: who is in it and what they are given.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct School {
    name: String,
    /// Those who sign in with a password that is told; the first looks after the people.
    people: Vec<Person>,
    /// Folder of the school's own records: everybody, and who is in which class.
    roster: String,
    circuits: Vec<String>,
    lessons: Vec<Given>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Person {
    name: String,
    display: String,
    roles: Vec<String>,
    password: String,
}

/// A lesson file whose circuit is named by file, and whom it is given to.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Given {
    lesson: String,
    circuit: String,
    to: Vec<Whom>,
}

/// A class, or those of it who are named.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Whom {
    class: String,
    #[serde(default)]
    students: Vec<String>,
}

pub(super) fn demo(args: &DemoArgs) -> Result<(), Failure> {
    let database = args.kept.database()?;
    let settings = args.kept.settings(&args.serving)?;
    if args.reset {
        reset(&database)?;
    }
    let (_held, store) = to_serve(&database)?;
    let school: School = read(&args.school.join("school.json"))?;
    let empty = store.is_empty();
    if empty.map_err(|e| Failure::BadInput(e.to_string()))? {
        println!("Making the demo school in {} …", database.display());
        fill(&store, &args.school, &school)?;
    }
    // One that was made by an earlier program has fewer people.
    let mut hints = Vec::new();
    for p in &school.people {
        if store
            .knows(&p.name)
            .map_err(|e| Failure::BadInput(e.to_string()))?
        {
            hints.push(format!("{} / {}", p.name, p.password));
        }
    }
    run(settings, store, "warn", &hints)
}

/// Throws a database away that nobody works on.
fn reset(database: &Path) -> Result<(), Failure> {
    let _alone = hold(database, Hold::Alone).map_err(|e| Failure::BadInput(e.to_string()))?;
    for behind in ["", "-wal", "-shm"] {
        let mut file = database.as_os_str().to_owned();
        file.push(behind);
        match std::fs::remove_file(&file) {
            Err(e) if e.kind() != std::io::ErrorKind::NotFound => {
                return Err(Failure::BadInput(format!("{}: {e}", database.display())));
            }
            _ => {}
        }
    }
    Ok(())
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
    let bad = Failure::BadInput;
    let mut people = Vec::new();
    for p in &school.people {
        let roles = p.roles.iter().map(|role| Role::parse(role));
        people.push(NewPerson {
            name: p.name.clone(),
            display: p.display.clone(),
            roles: roles.collect::<Result<_, _>>().map_err(stored)?,
            password: p.password.clone(),
        });
    }
    let (first, others) = people
        .split_first()
        .ok_or_else(|| bad("school.json names nobody".to_owned()))?;
    let author = store
        .open_school(&school.name, first, now())
        .map_err(stored)?;
    store.add_people(others).map_err(stored)?;
    let roster = read_roster(&folder.join(&school.roster))?;
    store.take_over(&roster, now()).map_err(stored)?;
    let students = store.students().map_err(stored)?;
    let classes = store.classes(author.id).map_err(stored)?;
    for file in &school.circuits {
        let doc: CircuitDoc = read(&folder.join(file))?;
        build_circuit(doc.clone()).map_err(refused(file))?;
        store.add_circuit(&doc, now()).map_err(stored)?;
    }
    for given in &school.lessons {
        let mut doc: serde_json::Value = read(&folder.join(&given.lesson))?;
        let circuit: serde_json::Value = read(&folder.join(&given.circuit))?;
        doc["circuit"] = circuit;
        let doc: LessonDoc = read_json(&doc.to_string()).map_err(refused(&given.lesson))?;
        Lesson::new(doc.clone()).map_err(refused(&given.lesson))?;
        let lesson = store.add_lesson(&doc, author.id, now()).map_err(stored)?;
        // Who looks around sees a sheet as soon as they have handed in.
        let terms = Terms {
            sheets: SheetsShow::HandedIn,
            ..Terms::default()
        };
        for whom in &given.to {
            let class = classes.iter().find(|c| c.name == whom.class);
            let class = class.ok_or_else(|| bad(format!("there is no class {}", whom.class)))?;
            let named = students.iter().filter(|s| whom.students.contains(&s.name));
            let named: Vec<i32> = named.map(|s| s.id).collect();
            let to = match whom.students.is_empty() {
                true => To::Class,
                false => To::Some(&named),
            };
            store
                .assign(class.id, lesson, to, &terms, now())
                .map_err(stored)?;
        }
    }
    Ok(())
}

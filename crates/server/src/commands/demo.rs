//! `cimento demo`: the demo school, made when its database is new.

use std::path::{Path, PathBuf};

use cimento_diagnosis::attempt::Step;
use cimento_diagnosis::lesson::{Lesson, LessonDoc};
use cimento_model::circuit::CircuitDoc;
use cimento_parts::build_circuit;
use cimento_store::{
    Hold, NewPerson, NewSheet, Role, SheetsShow, Store, StoreError, Terms, To, hold, name_for,
    take_place,
};
use clap::Args;
use serde::Deserialize;

use super::Failure;
use super::course::{document, documents, parsed};
use super::roster::read_roster;
use super::serve::{run, to_serve};
use super::settings::{Kept, Serving};
use crate::clock::now;

/// The term of work in the folder of the demo school.
const TERM: &str = "term.json.gz";
/// Seconds of a minute and a day.
const MINUTE_S: i64 = 60;
const DAY_S: i64 = 24 * 60 * MINUTE_S;

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
    /// With a class that has a term of work behind it.
    #[arg(long)]
    term: bool,
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
    course: Taught,
}

/// A course that a class takes, and how many of its lessons are given out.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Taught {
    course: String,
    class: String,
    given: usize,
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
    let school: School = parsed(&args.school.join("school.json"))?;
    if to_serve(&database)?.1.is_empty().map_err(stored)? {
        println!("Making the demo school in {} …", database.display());
        make(&database, args, &school)?;
    }
    let (_held, store) = to_serve(&database)?;
    // One that was made by an earlier program has fewer people.
    let mut hints = Vec::new();
    for p in &school.people {
        if store.knows(&p.name).map_err(stored)? {
            hints.push(format!("{} / {}", p.name, p.password));
        }
    }
    run(settings, store, "warn", &hints)
}

fn stored(e: StoreError) -> Failure {
    Failure::BadInput(e.to_string())
}

/// Makes the school in a file beside its place, which it takes when it is whole: one that was begun and not ended is none.
fn make(database: &Path, args: &DemoArgs, school: &School) -> Result<(), Failure> {
    let begun = database.with_extension("begun");
    for log in ["begun", "begun-wal", "begun-shm"] {
        let _ = std::fs::remove_file(database.with_extension(log));
    }
    let store = Store::open(&begun).map_err(stored)?;
    fill(&store, &args.school, school)?;
    if args.term {
        term(&store, &args.school.join(TERM))?;
    }
    store.checkpoint().map_err(stored)?;
    drop(store);
    take_place(&begun, database).map_err(stored)
}

/// A class with a term of work behind it, as `cimento-panel term` writes it; what is not named here is left aside.
#[derive(Deserialize)]
struct Term {
    class: String,
    students: Vec<String>,
    given: Vec<Lecture>,
    attempts: Vec<Work>,
}

#[derive(Deserialize)]
struct Lecture {
    lesson: LessonDoc,
    category: String,
    opened_days_ago: i64,
    due_days_ago: i64,
}

#[derive(Deserialize)]
struct Work {
    given: usize,
    student: usize,
    began_minutes_ago: i64,
    steps: Vec<Step>,
    marks: Option<Marks>,
}

#[derive(Deserialize)]
struct Marks {
    sheet: serde_json::Value,
    debrief: serde_json::Value,
}

/// Takes a term over: the class, its people, what they were given and what they did of it.
fn term(store: &Store, file: &Path) -> Result<(), Failure> {
    let bad = |e: &dyn std::fmt::Display| Failure::BadInput(format!("{}: {e}", file.display()));
    let opened = std::fs::File::open(file).map_err(|e| bad(&e))?;
    let text = std::io::BufReader::new(flate2::read::GzDecoder::new(opened));
    let term: Term = serde_json::from_reader(text).map_err(|e| bad(&e))?;
    let at = now();
    let people = store.people().map_err(stored)?;
    let teaches = |p: &&cimento_store::User| p.roles.has(Role::Administrator);
    let teacher = people.iter().find(teaches).map(|p| p.id);
    let teacher = teacher.ok_or_else(|| bad(&"nobody is there to teach"))?;
    let class = store
        .add_class(&term.class, Some(teacher), at)
        .map_err(stored)?;
    let mut taken: Vec<String> = people.into_iter().map(|p| p.name).collect();
    let mut pupils = Vec::new();
    for display in &term.students {
        let name = name_for(display, &taken);
        taken.push(name.clone());
        let pupil = store.add_user(&name, display, Role::Student, &crate::passwords::made());
        let pupil = pupil.map_err(stored)?.id;
        store
            .enrol(class, pupil, Role::Student, at)
            .map_err(stored)?;
        pupils.push(pupil);
    }
    let course = store.courses().map_err(stored)?;
    let course = course.first().ok_or_else(|| bad(&"there is no course"))?.id;
    store.take_course(class, Some(course)).map_err(stored)?;
    let taught = store.course_lessons(course).map_err(stored)?;
    let mut attempts = Vec::new();
    for lecture in &term.given {
        let opened = at - lecture.opened_days_ago * DAY_S;
        let title = &lecture.lesson.title;
        let entry = taught.iter().find(|e| e.title == *title);
        let lesson = entry.ok_or_else(|| bad(&format!("the course has no lesson “{title}”")))?;
        let lesson = lesson.lesson;
        let terms = Terms {
            due_at: Some(at - lecture.due_days_ago * DAY_S),
            category: lecture.category.clone(),
            ..Terms::default()
        };
        let given = store.assign(class, lesson, To::Some(&pupils), &terms, opened);
        attempts.push(given.map_err(stored)?.1);
    }
    for work in &term.attempts {
        let attempt = attempts.get(work.given).and_then(|a| a.get(work.student));
        let attempt = *attempt.ok_or_else(|| bad(&"an attempt of nobody"))?;
        let mut moment = (at - work.began_minutes_ago * MINUTE_S) as f64;
        let mut steps = Vec::new();
        for step in &work.steps {
            moment += step.minutes * MINUTE_S as f64;
            steps.push((step, moment as i64));
        }
        let texts = work
            .marks
            .as_ref()
            .map(|m| (m.sheet.to_string(), m.debrief.to_string()));
        let sheet = work
            .marks
            .as_ref()
            .zip(texts.as_ref())
            .map(|(marks, (sheet, debrief))| NewSheet {
                engine: TERM,
                made_at: moment as i64,
                sheet,
                debrief,
                computed: marks.sheet["computed"].as_f64().unwrap_or_default(),
            });
        store
            .record(attempt, &steps, sheet.as_ref())
            .map_err(stored)?;
    }
    Ok(())
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

fn fill(store: &Store, folder: &Path, school: &School) -> Result<(), Failure> {
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
        let doc: CircuitDoc = parsed(&folder.join(file))?;
        build_circuit(doc.clone()).map_err(refused(file))?;
        store.add_circuit(&doc, now()).map_err(stored)?;
    }
    for given in &school.lessons {
        let doc = document(&folder.join(&given.lesson), &folder.join(&given.circuit))?;
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
    let (course, lessons) = documents(&folder.join(&school.course.course))?;
    let class = classes.iter().find(|c| c.name == school.course.class);
    let class = class.ok_or_else(|| bad(format!("there is no class {}", school.course.class)))?;
    let whole: Vec<(&LessonDoc, &str)> = lessons
        .iter()
        .map(|(entry, doc)| (doc, entry.chapter.as_str()))
        .collect();
    let named = (course.title.as_str(), course.about.as_str());
    let id = store
        .take_in_course(named, &whole, author.id, now())
        .map_err(stored)?;
    let given = store.course_lessons(id).map_err(stored)?;
    for entry in given.iter().take(school.course.given) {
        let terms = Terms::default();
        store
            .assign(class.id, entry.lesson, To::Class, &terms, now())
            .map_err(stored)?;
    }
    store.take_course(class.id, Some(id)).map_err(stored)?;
    Ok(())
}

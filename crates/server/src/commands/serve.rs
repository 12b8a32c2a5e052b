//! `cimento serve` and `cimento demo`.

use cimento_parts::build_circuit;
use std::net::SocketAddr;
use std::path::{Path, PathBuf};
use std::time::Duration;

use cimento_diagnosis::lesson::{Lesson, LessonDoc};
use cimento_model::circuit::{CircuitDoc, read_json};
use cimento_store::{Role, Store};
use clap::Args;
use serde::Deserialize;

use super::{Failure, files};
use crate::clock::now;
use crate::connections::{self, Limits};
use crate::state::WORKS;
use crate::{AppState, router};

/// How long the last answers may take when the program is to end.
const LAST_ANSWERS: Duration = Duration::from_secs(3);
/// Files of the page read at once.
const FILES: usize = 6;

#[derive(Args)]
pub(super) struct ServeArgs {
    /// The database file.
    #[arg(long, default_value = "var/cimento.db")]
    database: PathBuf,
    /// Folder of the built page.
    #[arg(long, default_value = "web/dist")]
    web: PathBuf,
    /// Port on this machine; 0 takes a free one.
    #[arg(long, default_value_t = 8420)]
    port: u16,
}

#[derive(Args)]
pub(super) struct DemoArgs {
    #[command(flatten)]
    serve: ServeArgs,
    /// Folder of the demo school.
    #[arg(long, default_value = "demo")]
    school: PathBuf,
}

#[derive(Args)]
pub(super) struct BackupArgs {
    /// The database file.
    #[arg(long, default_value = "var/cimento.db")]
    database: PathBuf,
    /// The file to write, which must not be there yet.
    to: PathBuf,
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

pub(super) fn serve(args: &ServeArgs) -> Result<(), Failure> {
    let store = open(&args.database)?;
    run(args, store, &[])
}

pub(super) fn demo(args: &DemoArgs) -> Result<(), Failure> {
    let store = open(&args.serve.database)?;
    let school: School = read(&args.school.join("school.json"))?;
    if store
        .is_empty()
        .map_err(|e| Failure::BadInput(e.to_string()))?
    {
        println!(
            "Making the demo school in {} …",
            args.serve.database.display()
        );
        fill(&store, &args.school, &school)?;
    }
    let people = school.instructors.iter().chain(&school.students);
    let hints: Vec<String> = people
        .map(|p| format!("{} / {}", p.name, p.password))
        .collect();
    run(&args.serve, store, &hints)
}

pub(super) fn backup(args: &BackupArgs) -> Result<(), Failure> {
    let bad = |text: String| Failure::BadInput(text);
    let from = args.database.display();
    if !args.database.is_file() {
        return Err(bad(format!("there is no database {from}")));
    }
    open(&args.database)?
        .backup(&args.to)
        .map_err(|e| bad(e.to_string()))?;
    println!("{from} copied to {}", args.to.display());
    Ok(())
}

pub(super) fn open(database: &Path) -> Result<Store, Failure> {
    Store::open(database).map_err(|e| Failure::BadInput(e.to_string()))
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

fn run(args: &ServeArgs, store: Store, hints: &[String]) -> Result<(), Failure> {
    let index = args.web.join("index.html");
    if !index.is_file() {
        return Err(Failure::BadInput(format!(
            "the page is not built: {} is missing; run `make build` first",
            index.display()
        )));
    }
    tracing_subscriber::fmt()
        .with_env_filter(
            tracing_subscriber::EnvFilter::try_from_default_env().unwrap_or_else(|_| "warn".into()),
        )
        .with_writer(std::io::stderr)
        .init();
    // As many threads as there is work at once, and some for the files of the page: what waits needs none.
    let runtime = tokio::runtime::Builder::new_multi_thread()
        .enable_all()
        .max_blocking_threads(WORKS + FILES)
        .build()
        .map_err(|e| Failure::BadInput(e.to_string()))?;
    let closing = store.clone();
    runtime.block_on(async {
        let address = SocketAddr::from(([127, 0, 0, 1], args.port));
        let listener = tokio::net::TcpListener::bind(address).await.map_err(|e| {
            Failure::BadInput(match e.kind() {
                std::io::ErrorKind::AddrInUse => format!(
                    "port {} is in use by another program: stop it, or choose another with PORT=8421 make demo",
                    args.port
                ),
                _ => format!("port {} cannot be opened: {e}", args.port),
            })
        })?;
        let bound = listener.local_addr().map_err(|e| Failure::BadInput(e.to_string()))?;
        println!("Cimento is ready at http://{bound}");
        for hint in hints {
            println!("  sign in as {hint}");
        }
        let app = router(AppState::new(store.clone(), args.web.clone()));
        let (tell, mut told) = tokio::sync::watch::channel(false);
        let serving = connections::serve(listener, app, Limits::of_this_machine(), async move {
            let _ = told.wait_for(|end| *end).await;
        });
        // What is being answered is answered; who only listens is not waited for.
        let ending = async {
            asked_to_end().await;
            let _ = tell.send(true);
            tokio::time::sleep(LAST_ANSWERS).await;
        };
        tokio::select! {
            served = serving => served.map_err(|e| Failure::BadInput(format!("the server stopped: {e}"))),
            () = ending => Ok(()),
        }
    })?;
    // A computation that is going on is not waited for either: it is begun anew when it is asked for again.
    runtime.shutdown_background();
    closing
        .checkpoint()
        .map_err(|e| Failure::Finding(e.to_string()))
}

/// Somebody, or the system, ends the program.
async fn asked_to_end() {
    let interrupted = tokio::signal::ctrl_c();
    #[cfg(unix)]
    {
        use tokio::signal::unix::{SignalKind, signal};
        if let Ok(mut terminated) = signal(SignalKind::terminate()) {
            tokio::select! {
                _ = interrupted => {}
                _ = terminated.recv() => {}
            }
            return;
        }
    }
    let _ = interrupted.await;
}

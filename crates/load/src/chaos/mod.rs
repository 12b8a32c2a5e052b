//! What an end without warning, a bad disk and a wrong clock do to a school: whether anything that was acknowledged is
//! lost, and how long it takes until it serves again.
//!
//! `cargo run --release -p cimento-load -- chaos`, with the Debian packages strace and faketime; as root also the disks.

mod clock;
mod disks;
mod kills;
mod writer;

use std::path::{Path, PathBuf};
use std::process::Stdio;
use std::time::Duration;

use cimento_store::{Terms, To};
use reqwest::Client;
use serde_json::json;
use tempfile::TempDir;
use tokio::process::{Child, Command};
use tokio::time::{Instant, sleep};

use crate::person::{Measured, Person};
use crate::school::{self, Lesson};
use crate::{Chaos, Failure, Program};

/// Students who write.
pub const WRITERS: usize = 20;
/// How long a server may take to serve.
const PATIENCE: Duration = Duration::from_secs(20);
/// How often a student may begin again.
const ATTEMPTS: i32 = 10_000;

/// A server at a port of its own that it has after each start.
pub struct Server {
    program: PathBuf,
    web: PathBuf,
    database: PathBuf,
    port: u16,
    /// What it is started under, such as a tracer, with its arguments, and what is set for it.
    pub under: Vec<String>,
    pub set: Vec<(String, String)>,
    child: Option<Child>,
    client: Client,
}

impl Server {
    fn new(program: &Program, database: &Path) -> Result<Self, Failure> {
        let free = std::net::TcpListener::bind("127.0.0.1:0")?;
        Ok(Self {
            program: program.server.clone(),
            web: program.web.clone(),
            database: database.to_owned(),
            port: free.local_addr()?.port(),
            under: Vec::new(),
            set: Vec::new(),
            child: None,
            client: Client::builder().timeout(Duration::from_secs(5)).build()?,
        })
    }

    pub fn url(&self) -> String {
        format!("http://127.0.0.1:{}", self.port)
    }

    pub fn command(&self, what: &str) -> Command {
        let mut command = match self.under.split_first() {
            Some((first, more)) => {
                let mut command = Command::new(first);
                command.args(more).arg(&self.program);
                command
            }
            None => Command::new(&self.program),
        };
        command.envs(self.set.iter().map(|(k, v)| (k, v)));
        command.arg(what).arg("--database").arg(&self.database);
        command.stdout(Stdio::null()).stderr(Stdio::null());
        command.kill_on_drop(true);
        command
    }

    /// Starts it without waiting for it.
    pub fn begin(&mut self) -> Result<(), Failure> {
        let mut command = self.command("serve");
        // As often as one can: what is looked at is not how it turns somebody away.
        command.args(["--log", "off", "--rate", "1e6"]);
        command.args(["--port", &self.port.to_string()]);
        self.child = Some(command.arg("--web").arg(&self.web).spawn()?);
        Ok(())
    }

    /// Starts it, and says after how many seconds it served.
    pub async fn start(&mut self) -> Result<f64, Failure> {
        let began = Instant::now();
        self.begin()?;
        while began.elapsed() < PATIENCE {
            let asked = self.client.get(format!("{}/health", self.url())).send();
            if asked.await.is_ok_and(|a| a.status().is_success()) {
                return Ok(began.elapsed().as_secs_f64());
            }
            if let Some(child) = &mut self.child
                && let Some(status) = child.try_wait()?
            {
                return Err(format!("the server ended by itself: {status}").into());
            }
            sleep(Duration::from_millis(2)).await;
        }
        Err("the server does not serve".into())
    }

    /// Ends it without warning.
    pub async fn kill(&mut self) -> Result<(), Failure> {
        if let Some(mut child) = self.child.take() {
            // What it runs under has it as a child of its own.
            if let (false, Some(id)) = (self.under.is_empty(), child.id()) {
                let mut children = Command::new("pkill");
                children.args(["-KILL", "-P", &id.to_string()]);
                children.status().await?;
            }
            child.kill().await?;
        }
        Ok(())
    }

    /// Asks it to end, and says after how many seconds it had.
    pub async fn end(&mut self) -> Result<f64, Failure> {
        let Some(mut child) = self.child.take() else {
            return Ok(0.0);
        };
        let began = Instant::now();
        if let Some(id) = child.id() {
            let mut kill = Command::new("kill");
            kill.args(["-TERM", &id.to_string()]).status().await?;
        }
        child.wait().await?;
        Ok(began.elapsed().as_secs_f64())
    }
}

/// A school with students who have a lesson each, in a folder.
pub struct School {
    pub server: Server,
    pub database: PathBuf,
    pub folder: PathBuf,
    _own: Option<TempDir>,
}

impl School {
    /// In a folder of its own, or in one that is given.
    pub async fn open(program: &Program, folder: Option<&Path>) -> Result<Self, Failure> {
        let own = match folder {
            Some(_) => None,
            None => Some(tempfile::tempdir()?),
        };
        let folder = folder.or(own.as_ref().map(TempDir::path));
        let folder = folder.ok_or("no folder")?.to_owned();
        let database = folder.join("school.db");
        school::found(
            &database,
            &program.circuits,
            &["baggage-tug-starting"],
            WRITERS,
        )?;
        let mut server = Server::new(program, &database)?;
        server.start().await?;
        let measured = std::sync::Arc::new(tokio::sync::Mutex::new(Measured::default()));
        let instructor = Person::new(&server.url(), &measured)?;
        let signed_in = instructor.sign_in("instructor").await;
        signed_in.ok_or("no instructor")?;
        let lesson = Lesson::marked("One", 1, "W8");
        school::make(&instructor, &lesson).await?;
        let limited = json!({"title": "In time", "complaint": "It does not go.", "circuit": 1,
            "faults": [{"place": "W8", "mode": "open"}], "predictions": false, "rules": {"limit_minutes": 60}});
        let made = instructor.ask(
            "lesson",
            reqwest::Method::POST,
            "/api/lessons",
            Some(&limited),
        );
        made.await.ok_or("no lesson")?;
        server.end().await?;
        // Beside the server: each student may begin again and again.
        let store = cimento_store::Store::open(&database)?;
        for lesson in [1, 2] {
            let terms = Terms {
                attempts: ATTEMPTS,
                ..Terms::default()
            };
            store.assign(1, lesson, To::Class, &terms, 0)?;
        }
        store.checkpoint()?;
        Ok(Self {
            server,
            database,
            folder,
            _own: own,
        })
    }
}

pub async fn run(program: &Program, args: &Chaos) -> Result<(), Failure> {
    let wanted = |name: &str| args.only.as_ref().is_none_or(|only| only == name);
    let mut lost = 0;
    if wanted("kills") {
        lost += kills::serving(program, args.kills).await?;
        lost += kills::copying(program, args.copies).await?;
        lost += kills::upgrading(program, args.copies).await?;
        lost += kills::restoring(program, args.copies).await?;
    }
    if wanted("gone") {
        for _ in 0..args.gone {
            lost += disks::gone(program).await?;
        }
    }
    if wanted("disks") {
        lost += disks::full_and_read_only(program).await?;
        lost += disks::failing(program).await?;
        lost += disks::slow(program).await?;
    }
    if wanted("clock") {
        lost += clock::jumps(program).await?;
    }
    println!("lost in all: {lost}");
    match lost {
        0 => Ok(()),
        _ => Err("something that was acknowledged is lost".into()),
    }
}

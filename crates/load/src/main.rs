//! A class at once: many students sign in within a minute and then act every few seconds, as readings,
//! verdicts, controls and, on an ignition, screens of the oscilloscope; some hand in, and an instructor has
//! the lessons open. Prints how long each kind of request took, what failed, and what the server used.
//!
//! `cargo run --release -p cimento-load -- --server target/release/cimento --students 1000`

use std::collections::BTreeMap;
use std::error::Error;
use std::path::{Path, PathBuf};
use std::process::Stdio;
use std::sync::Arc;
use std::time::{Duration, Instant};

use cimento_model::circuit::CircuitDoc;
use cimento_store::{Role, Store};
use clap::Parser;
use reqwest::{Client, Method, StatusCode};
use serde_json::{Value, json};
use tokio::io::{AsyncBufReadExt, BufReader};
use tokio::sync::Mutex;
use tokio::time::{Instant as At, sleep, sleep_until};

const PASSWORD: &str = "red-and-black";
/// How often one who was turned away asks again.
const TRIES: usize = 12;
/// How often the instructor's page asks.
const LIVE: Duration = Duration::from_secs(3);

#[derive(Parser)]
struct Args {
    /// The server's program, built in release.
    #[arg(long, default_value = "target/release/cimento")]
    server: PathBuf,
    #[arg(long, default_value = "web/dist")]
    web: PathBuf,
    #[arg(long, default_value = "demo/circuits")]
    circuits: PathBuf,
    #[arg(long, default_value_t = 300)]
    students: usize,
    /// Seconds within which all sign in.
    #[arg(long, default_value_t = 60.0)]
    arrive: f64,
    /// Seconds for which they act.
    #[arg(long, default_value_t = 120.0)]
    act: f64,
    /// Seconds between two actions of one student.
    #[arg(long, default_value_t = 5.0)]
    every: f64,
}

type Failure = Box<dyn Error + Send + Sync>;

/// What was measured, by kind of request.
#[derive(Default)]
struct Measured {
    /// Seconds from asking to the answer, waiting to be let in included.
    took: BTreeMap<&'static str, Vec<f64>>,
    errors: BTreeMap<String, usize>,
    turned_away: usize,
}

/// Somebody at a browser.
#[derive(Clone)]
struct Person {
    client: Client,
    url: String,
    measured: Arc<Mutex<Measured>>,
}

impl Person {
    fn new(url: &str, measured: &Arc<Mutex<Measured>>) -> Result<Self, Failure> {
        Ok(Self {
            client: Client::builder().cookie_store(true).build()?,
            url: url.to_owned(),
            measured: Arc::clone(measured),
        })
    }

    /// Asks, and again when turned away; the answer when all went well.
    async fn ask(
        &self,
        kind: &'static str,
        method: Method,
        path: &str,
        body: Option<&Value>,
    ) -> Option<Value> {
        let began = Instant::now();
        for _ in 0..TRIES {
            let mut request = self
                .client
                .request(method.clone(), format!("{}{path}", self.url));
            if let Some(body) = body {
                request = request.json(body);
            }
            let answer = match request.send().await {
                Ok(answer) => answer,
                Err(e) => return self.failed(kind, &e.to_string()).await,
            };
            let status = answer.status();
            if status == StatusCode::SERVICE_UNAVAILABLE {
                let header = answer.headers().get("Retry-After");
                let seconds = header.and_then(|h| h.to_str().ok()?.parse().ok());
                self.measured.lock().await.turned_away += 1;
                sleep(Duration::from_secs_f64(
                    seconds.unwrap_or(2.0) * (0.5 + fastrand::f64()),
                ))
                .await;
                continue;
            }
            let text = match answer.text().await {
                Ok(text) => text,
                Err(e) => return self.failed(kind, &e.to_string()).await,
            };
            if !status.is_success() {
                let text: String = text.chars().take(120).collect();
                return self.failed(kind, &format!("{status} {text}")).await;
            }
            let took = began.elapsed().as_secs_f64();
            let mut measured = self.measured.lock().await;
            measured.took.entry(kind).or_default().push(took);
            return Some(serde_json::from_str(&text).unwrap_or(Value::Null));
        }
        self.failed(kind, "turned away too often").await
    }

    async fn failed(&self, kind: &str, why: &str) -> Option<Value> {
        let mut measured = self.measured.lock().await;
        *measured.errors.entry(format!("{kind}: {why}")).or_default() += 1;
        None
    }

    async fn sign_in(&self, name: &str) -> Option<Value> {
        let body = json!({"name": name, "password": PASSWORD});
        self.ask("sign in", Method::POST, "/api/sign-in", Some(&body))
            .await
    }
}

/// A student's class: what the bench at hand allows.
#[derive(Clone, Copy, PartialEq)]
enum Class {
    Starting,
    Ignition,
}

/// One student from signing in to handing in.
async fn student(person: Person, nth: usize, class: Class, args: Arc<Times>) {
    let mut rng = fastrand::Rng::with_seed(nth as u64);
    sleep_until(args.begin + Duration::from_secs_f64(rng.f64() * args.arrive)).await;
    if person.sign_in(&name(nth)).await.is_none() {
        return;
    }
    let Some(attempts) = person.ask("list", Method::GET, "/api/attempts", None).await else {
        return;
    };
    let id = attempts[0]["id"].as_i64().unwrap_or(0);
    let path = format!("/api/attempts/{id}");
    let Some(view) = person.ask("open", Method::GET, &path, None).await else {
        return;
    };
    let texts = |list: &Value, field: &str| -> Vec<String> {
        let all = list.as_array().into_iter().flatten();
        all.filter_map(|v| Some(v[field].as_str()?.to_owned()))
            .collect()
    };
    let points = texts(&view["drawing"]["points"], "id");
    let leads = view["drawing"]["leads"].as_array().into_iter().flatten();
    let leads: Vec<&str> = leads.filter_map(Value::as_str).collect();
    let negative = view["drawing"]["negative"].as_str().unwrap_or_default();
    let steps = format!("{path}/steps");
    let (mut done, mut last_reading) = (0_u64, 0_u64);
    sleep_until(args.acts).await;
    sleep(Duration::from_secs_f64(rng.f64() * args.every)).await;
    while At::now() < args.ends {
        let draw = rng.f64();
        let (kind, action) = if done == 0 {
            let control = json!({"do": "set_control", "control": "key", "position": "start"});
            ("control", control)
        } else if class == Class::Ignition && draw < 0.1 && !leads.is_empty() {
            let lead = leads[rng.usize(..leads.len())];
            let scope = json!({"channels": [{"with": "pickup", "lead": lead}], "sweep_s": 0.02});
            ("capture", json!({"do": "capture", "scope": scope}))
        } else if draw < 0.25 && last_reading > 0 {
            let judge = json!({"do": "judge", "step": last_reading, "verdict": "normal"});
            ("verdict", judge)
        } else if draw < 0.35 {
            let position = ["off", "run", "start"][rng.usize(..3)];
            let control = json!({"do": "set_control", "control": "key", "position": position});
            ("control", control)
        } else {
            let red = &points[rng.usize(..points.len())];
            let reading = json!({"do": "take_reading", "function": "dc_volts", "red": red, "black": negative});
            ("reading", reading)
        };
        let is_reading = kind == "reading";
        let body = json!({"after": done, "request": format!("{nth} {done}"), "action": action});
        if let Some(answer) = person.ask(kind, Method::POST, &steps, Some(&body)).await {
            done = answer["steps"].as_u64().unwrap_or(done + 1);
            if is_reading {
                last_reading = done;
            }
        }
        sleep(Duration::from_secs_f64(
            args.every * (0.8 + 0.4 * rng.f64()),
        ))
        .await;
    }
    if nth.is_multiple_of(10) {
        let body = json!({"after": done, "request": "end", "action": {"do": "hand_in"}});
        person
            .ask("hand in", Method::POST, &steps, Some(&body))
            .await;
    }
}

struct Times {
    begin: At,
    acts: At,
    ends: At,
    arrive: f64,
    every: f64,
}

fn name(nth: usize) -> String {
    format!("student{nth}")
}

/// A school in a new database: an instructor, the students, and two lessons given to all of them in turn.
async fn school(args: &Args, database: &Path) -> Result<Vec<CircuitDoc>, Failure> {
    let store = Store::open(database)?;
    store.add_user("instructor", "Instructor", Role::Instructor, PASSWORD)?;
    let mut circuits = Vec::new();
    for file in ["baggage-tug-starting", "baggage-tug-ignition"] {
        let text = std::fs::read_to_string(args.circuits.join(format!("{file}.json")))?;
        let doc: CircuitDoc = serde_json::from_str(&text)?;
        store.add_circuit(&doc, 0)?;
        circuits.push(doc);
    }
    // Each password is hashed at length: on all cores.
    let next = Arc::new(std::sync::atomic::AtomicUsize::new(0));
    let count = args.students;
    std::thread::scope(|s| {
        for _ in 0..std::thread::available_parallelism().map_or(1, usize::from) {
            let (store, next) = (store.clone(), Arc::clone(&next));
            s.spawn(move || {
                loop {
                    let nth = next.fetch_add(1, std::sync::atomic::Ordering::Relaxed);
                    if nth >= count {
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
    Ok(circuits)
}

/// Kernel's figures of a process: seconds of CPU, megabytes held, threads.
fn used(pid: u32) -> Result<(f64, f64, usize), Failure> {
    let status = std::fs::read_to_string(format!("/proc/{pid}/status"))?;
    let field = |name: &str| -> f64 {
        let line = status.lines().find(|l| l.starts_with(name));
        let number = line.and_then(|l| l.split_whitespace().nth(1)?.parse().ok());
        number.unwrap_or(0.0)
    };
    let stat = std::fs::read_to_string(format!("/proc/{pid}/stat"))?;
    // After the name in brackets; user and system time are the 12th and 13th field from there.
    let rest = stat.rsplit_once(") ").map_or("", |(_, rest)| rest);
    let ticks = rest.split_whitespace().skip(11).take(2);
    let ticks: f64 = ticks.filter_map(|t| t.parse::<f64>().ok()).sum();
    Ok((
        ticks / 100.0,
        field("VmHWM:") / 1024.0,
        field("Threads:") as usize,
    ))
}

#[tokio::main]
async fn main() -> Result<(), Failure> {
    let args = Args::parse();
    let folder = tempfile::tempdir()?;
    let database = folder.path().join("school.db");
    println!("Making a school of {} students …", args.students);
    school(&args, &database).await?;
    let mut server = tokio::process::Command::new(&args.server)
        .args(["serve", "--port", "0", "--database"])
        .arg(&database)
        .arg("--web")
        .arg(&args.web)
        .stdout(Stdio::piped())
        .kill_on_drop(true)
        .spawn()?;
    let pid = server.id().ok_or("the server has gone")?;
    let out = server.stdout.take().ok_or("the server says nothing")?;
    let line = BufReader::new(out).lines().next_line().await?;
    let url = line.as_deref().and_then(|l| l.split(" at ").nth(1));
    let url = url.ok_or("the server did not say where it is")?.to_owned();
    let measured = Arc::new(Mutex::new(Measured::default()));
    let instructor = Person::new(&url, &measured)?;
    instructor
        .sign_in("instructor")
        .await
        .ok_or("no instructor")?;
    // Every tenth student is at the ignition.
    let at_ignition = |nth: usize| nth % 10 == 5;
    for (n, fault) in ["W8", "W13"].into_iter().enumerate() {
        let lesson = json!({"title": "Class", "complaint": "It does not go.", "circuit": n + 1,
            "faults": [{"place": fault, "mode": "open"}], "predictions": false, "rules": {"scope": n == 1}});
        let made = instructor
            .ask("lesson", Method::POST, "/api/lessons", Some(&lesson))
            .await
            .ok_or("no lesson")?;
        // The instructor is the first person of the school.
        let mine = (0..args.students).filter(|nth| at_ignition(*nth) == (n == 1));
        let everyone = instructor
            .ask("people", Method::GET, "/api/students", None)
            .await
            .ok_or("no students")?;
        let id_of = |nth: usize| {
            let all = everyone.as_array().into_iter().flatten();
            let mut found = all.filter(|s| s["name"] == name(nth).as_str());
            found.next().map(|s| s["id"].clone())
        };
        let ids: Vec<Value> = mine.filter_map(id_of).collect();
        let path = format!("/api/lessons/{}/give", made["id"]);
        let give = json!({ "students": ids });
        instructor
            .ask("give", Method::POST, &path, Some(&give))
            .await
            .ok_or("not given")?;
    }
    let begin = At::now();
    let acts = begin + Duration::from_secs_f64(args.arrive);
    let times = Arc::new(Times {
        begin,
        acts,
        ends: acts + Duration::from_secs_f64(args.act),
        arrive: args.arrive,
        every: args.every,
    });
    let live = tokio::spawn({
        let (instructor, ends) = (instructor.clone(), times.ends);
        async move {
            while At::now() < ends {
                instructor
                    .ask("live page", Method::GET, "/api/lessons", None)
                    .await;
                sleep(LIVE).await;
            }
        }
    });
    let before = used(pid)?;
    let mut students = Vec::new();
    for nth in 0..args.students {
        let class = match at_ignition(nth) {
            true => Class::Ignition,
            false => Class::Starting,
        };
        let person = Person::new(&url, &measured)?;
        students.push(tokio::spawn(student(
            person,
            nth,
            class,
            Arc::clone(&times),
        )));
    }
    sleep_until(times.acts).await;
    let arrived = used(pid)?;
    let mut most_threads = arrived.2;
    while At::now() < times.ends {
        sleep(Duration::from_secs(1)).await;
        most_threads = most_threads.max(used(pid)?.2);
    }
    for student in students {
        student.await?;
    }
    live.await?;
    let after = used(pid)?;
    let measured = measured.lock().await;
    println!(
        "{:<10} {:>7} {:>9} {:>9} {:>9} {:>9}",
        "kind", "asked", "p50 ms", "p95 ms", "p99 ms", "most ms"
    );
    for (kind, took) in &measured.took {
        let mut sorted = took.clone();
        sorted.sort_by(f64::total_cmp);
        let at = |share: f64| 1e3 * sorted[((sorted.len() - 1) as f64 * share).round() as usize];
        println!(
            "{kind:<10} {:>7} {:>9.1} {:>9.1} {:>9.1} {:>9.1}",
            sorted.len(),
            at(0.5),
            at(0.95),
            at(0.99),
            at(1.0)
        );
    }
    println!(
        "turned away and come again: {}; errors: {}",
        measured.turned_away,
        measured.errors.values().sum::<usize>()
    );
    for (what, count) in &measured.errors {
        println!("  {count} × {what}");
    }
    println!(
        "server: {:.1} s of CPU while they arrived, {:.1} s while they acted; at most {:.0} MB, {} threads",
        arrived.0 - before.0,
        after.0 - arrived.0,
        after.1,
        most_threads
    );
    server.kill().await?;
    Ok(())
}

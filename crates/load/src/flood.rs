//! One student against all: for every route, how long another student's answers take while the first one asks it as
//! fast as they can, from sixteen connections of a program of low priority.

use std::process::Stdio;
use std::sync::Arc;
use std::sync::atomic::{AtomicU64, AtomicUsize, Ordering};
use std::time::Duration;

use reqwest::{Client, Method, StatusCode};
use serde_json::{Value, json};
use tokio::process::Command;
use tokio::time::{Instant, sleep, timeout_at};

use crate::person::{PASSWORD, Person};
use crate::school::{self, Lesson, School, name};
use crate::{Failure, Flood, Flooder, Program};

const CONNECTIONS: usize = 16;
/// Between two questions of the other student.
const PAUSE: Duration = Duration::from_millis(60);
/// Slower than this, and than three times what is usual, is too slow; in seconds.
const FELT: f64 = 0.05;
/// The flooding student and the other.
const FIRST: usize = 0;
const OTHER: usize = 1;

/// What is asked over and over.
struct Question {
    method: String,
    path: String,
    body: Option<Value>,
}

/// Every route of the API, as the first student can ask it, and the page's.
async fn questions(first: &Person, attempts: &[i64]) -> Result<Vec<Question>, Failure> {
    let described = first
        .ask("describe", Method::GET, "/api/openapi.json", None)
        .await
        .ok_or("the API does not describe itself")?;
    let mut out = vec![
        Question::get("/"),
        Question::get("/api/openapi.json"),
        Question::get("/api/nowhere"),
    ];
    for (path, methods) in described["paths"].as_object().into_iter().flatten() {
        for (method, said) in methods.as_object().into_iter().flatten() {
            // Where it is about an attempt, about each: one is going on, one is handed in.
            let about = match path.contains("attempts/{id}") {
                true => attempts,
                false => &[1],
            };
            for id in about {
                let path = path.replace("{id}", &id.to_string());
                let path = ["{step}", "{version}", "{sheet}"]
                    .iter()
                    .fold(path, |p, name| p.replace(name, "1"));
                let body = said.get("requestBody").map(|_| body_for(&path));
                out.push(Question {
                    method: method.to_uppercase(),
                    path,
                    body,
                });
            }
        }
    }
    Ok(out)
}

/// Something that the route understands, where a student may ask it.
fn body_for(path: &str) -> Value {
    match path.rsplit('/').next().unwrap_or_default() {
        "sign-in" => json!({"name": name(FIRST), "password": "no-such-password"}),
        "password" => json!({"old": "no-such-password", "new": PASSWORD}),
        "steps" => {
            let scope = json!({"channels": [{"with": "leads", "red": "BAT.+", "black": "BAT.-"}], "sweep_s": 0.2});
            json!({"after": 0, "request": "", "action": {"do": "capture", "scope": scope}})
        }
        "hints" => json!({"after": 0, "request": ""}),
        _ => json!({}),
    }
}

impl Question {
    fn get(path: &str) -> Self {
        Self {
            method: "GET".to_owned(),
            path: path.to_owned(),
            body: None,
        }
    }
}

/// The other student: takes readings, looks at the bench and asks who they are.
async fn others(person: &Person, attempt: i64, done: &mut u64, seconds: f64) -> Vec<f64> {
    let ends = Instant::now() + Duration::from_secs_f64(seconds);
    let path = format!("/api/attempts/{attempt}");
    let steps = format!("{path}/steps");
    let mut took = Vec::new();
    while Instant::now() < ends {
        let action = json!({"do": "set_control", "control": "key", "position": (["off", "run"])[(*done % 2) as usize]});
        let body = json!({"after": *done, "request": format!("other {done}"), "action": action});
        for (method, path, body) in [
            (Method::POST, steps.as_str(), Some(&body)),
            (Method::GET, path.as_str(), None),
            (Method::GET, "/api/me", None),
        ] {
            let began = Instant::now();
            let answer = person.ask("other", method, path, body).await;
            took.push(began.elapsed().as_secs_f64());
            if let Some(count) = answer.and_then(|a| a["steps"].as_u64()) {
                *done = count;
            }
            sleep(PAUSE).await;
        }
    }
    took
}

fn p95(mut took: Vec<f64>) -> f64 {
    took.sort_by(f64::total_cmp);
    took[(took.len() - 1) * 95 / 100]
}

pub async fn run(program: &Program, args: &Flood) -> Result<(), Failure> {
    let circuits = ["baggage-tug-starting", "baggage-tug-ignition"];
    let school = School::open(program, &circuits, 2, None).await?;
    let teacher = &school.instructor;
    let both = Lesson::marked("Both", 1, "W8");
    school::give(teacher, &both, [FIRST, OTHER].into_iter()).await?;
    let ignition = Lesson::marked("Ignition", 2, "W13").practice().with_scope();
    school::give(teacher, &ignition, std::iter::once(FIRST)).await?;
    let (first, attempts) = school.student(FIRST).await?;
    let (other, own) = school.student(OTHER).await?;
    let end = json!({"after": 0, "request": "end", "action": {"do": "hand_in"}});
    let path = format!("/api/attempts/{}/steps", attempts[0]);
    first.ask("hand in", Method::POST, &path, Some(&end)).await;
    let cookie = first.cookie()?;
    let mut done = 0;
    // Marks are worked out by then.
    others(&other, own[0], &mut done, 10.0).await;
    let quiet = p95(others(&other, own[0], &mut done, 2.0 * args.seconds).await);
    let bar = (3.0 * quiet).max(FELT);
    println!(
        "quiet: p95 {:.1} ms; with a flood at most {:.0} ms",
        1e3 * quiet,
        1e3 * bar
    );
    let mut over = 0;
    for question in questions(&first, &attempts).await? {
        if !format!("{} {}", question.method, question.path).contains(&args.only) {
            continue;
        }
        // The flood begins with all that one may ask at once.
        sleep(Duration::from_secs_f64(args.rest)).await;
        let mut child = Command::new("nice");
        child.args(["-n", "10"]).arg(std::env::current_exe()?);
        child.args(["flooder", "--url", &school.server.url]);
        child.args(["--cookie", &cookie, "--method", &question.method]);
        child.args(["--path", &question.path]);
        child.args(["--seconds", &args.seconds.to_string()]);
        if let Some(body) = &question.body {
            child.args(["--body", &body.to_string()]);
        }
        let child = child.stdout(Stdio::piped()).spawn()?;
        let during = p95(others(&other, own[0], &mut done, args.seconds).await);
        let said = String::from_utf8_lossy(&child.wait_with_output().await?.stdout).into_owned();
        let mark = if during > bar { "  OVER" } else { "" };
        over += usize::from(during > bar);
        println!(
            "{:>7.1} ms  {:<6} {:<46} {}{mark}",
            1e3 * during,
            question.method,
            question.path,
            said.trim(),
        );
    }
    school.measured.lock().await.print();
    println!("{over} routes over the bar");
    school.server.stop().await?;
    match over {
        0 => Ok(()),
        _ => Err("a flood is felt".into()),
    }
}

/// The flood itself: says what it was answered, by status.
pub async fn flooder(args: &Flooder) -> Result<(), Failure> {
    let method: Method = args.method.parse()?;
    let body: Option<Value> = args.body.as_deref().map(serde_json::from_str).transpose()?;
    let ends = Instant::now() + Duration::from_secs_f64(args.seconds);
    let counts: Arc<[AtomicUsize; 600]> = Arc::new([const { AtomicUsize::new(0) }; 600]);
    // Steps go on from the last one that was answered, so that they are done and not refused.
    let (after, next) = (Arc::new(AtomicU64::new(0)), Arc::new(AtomicU64::new(0)));
    let mut tasks = Vec::new();
    for _ in 0..CONNECTIONS {
        let client = Client::builder().pool_max_idle_per_host(1).build()?;
        let (counts, after, next) = (Arc::clone(&counts), Arc::clone(&after), Arc::clone(&next));
        let (method, body, cookie) = (method.clone(), body.clone(), args.cookie.clone());
        let url = format!("{}{}", args.url, args.path);
        tasks.push(tokio::spawn(async move {
            while Instant::now() < ends {
                let mut request = client
                    .request(method.clone(), &url)
                    .header("Cookie", &cookie);
                if let Some(mut body) = body.clone() {
                    if body.get("after").is_some() {
                        body["after"] = after.load(Ordering::Relaxed).into();
                        let key = next.fetch_add(1, Ordering::Relaxed);
                        body["request"] = format!("flood {} {key}", std::process::id()).into();
                    }
                    request = request.json(&body);
                }
                let Ok(answer) = request.send().await else {
                    counts[0].fetch_add(1, Ordering::Relaxed);
                    continue;
                };
                let status = answer.status();
                counts[usize::from(status.as_u16()).min(599)].fetch_add(1, Ordering::Relaxed);
                // What is told as it happens has no end.
                let text = timeout_at(ends, answer.text()).await;
                let text = text.map(Result::unwrap_or_default).unwrap_or_default();
                let said: Value = serde_json::from_str(&text).unwrap_or_default();
                if let Some(steps) = said["steps"].as_u64() {
                    after.fetch_max(steps, Ordering::Relaxed);
                } else if status == StatusCode::CONFLICT {
                    // "it has 12 steps, not 0": another program of ours went before.
                    let detail = said["detail"].as_str().unwrap_or_default();
                    let numbers = detail.split(|c: char| !c.is_ascii_digit());
                    let most = numbers.filter_map(|n| n.parse().ok()).max();
                    after.fetch_max(most.unwrap_or(0), Ordering::Relaxed);
                }
            }
        }));
    }
    for task in tasks {
        task.await?;
    }
    let seen = counts.iter().enumerate().filter_map(|(status, count)| {
        let count = count.load(Ordering::Relaxed);
        (count > 0).then(|| format!("{count} × {status}"))
    });
    println!("{}", seen.collect::<Vec<_>>().join(", "));
    Ok(())
}

//! A class at once: many students sign in within a minute and then act every few seconds, as readings,
//! verdicts, controls and, on an ignition, screens of the oscilloscope; some hand in, and an instructor has
//! the lessons open.

use std::sync::Arc;
use std::time::Duration;

use reqwest::Method;
use serde_json::{Value, json};
use tokio::time::{Instant as At, sleep, sleep_until};

use crate::person::Person;
use crate::school::{self, Lesson, School, name};
use crate::{Class as Args, Failure, Program};

/// How often the instructor's page asks.
const LIVE: Duration = Duration::from_secs(3);

/// What the bench at hand allows.
#[derive(Clone, Copy, PartialEq)]
enum Class {
    Starting,
    Ignition,
}

struct Times {
    begin: At,
    acts: At,
    ends: At,
    arrive: f64,
    every: f64,
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
            // An ignition is kept cranking: it sparks for those who look at it.
            let positions: &[&str] = match class {
                Class::Starting => &["off", "run", "start"],
                Class::Ignition => &["start"],
            };
            let position = positions[rng.usize(..positions.len())];
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

/// Every tenth student is at the ignition.
fn class_of(nth: usize) -> Class {
    match nth % 10 {
        5 => Class::Ignition,
        _ => Class::Starting,
    }
}

pub async fn run(program: &Program, args: &Args) -> Result<(), Failure> {
    println!("Making a school of {} students …", args.students);
    let circuits = ["baggage-tug-starting", "baggage-tug-ignition"];
    let school = School::open(program, &circuits, args.students, None).await?;
    let (server, instructor, measured) = (&school.server, &school.instructor, &school.measured);
    for (circuit, place, class) in [(1, "W8", Class::Starting), (2, "W13", Class::Ignition)] {
        let members = (0..args.students).filter(|nth| class_of(*nth) == class);
        let lesson = Lesson::marked("Class", circuit, place);
        let lesson = match class {
            Class::Starting => lesson,
            Class::Ignition => lesson.with_scope(),
        };
        school::give(instructor, &lesson, members).await?;
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
    let before = server.used()?;
    let mut students = Vec::new();
    for nth in 0..args.students {
        let person = Person::new(&server.url, measured)?;
        let times = Arc::clone(&times);
        students.push(tokio::spawn(student(person, nth, class_of(nth), times)));
    }
    sleep_until(times.acts).await;
    let arrived = server.used()?;
    let mut most_threads = arrived.2;
    while At::now() < times.ends {
        sleep(Duration::from_secs(1)).await;
        most_threads = most_threads.max(server.used()?.2);
    }
    for student in students {
        student.await?;
    }
    live.await?;
    let after = server.used()?;
    measured.lock().await.print();
    println!(
        "server: {:.1} s of CPU while they arrived, {:.1} s while they acted; at most {:.0} MB, {most_threads} threads",
        arrived.0 - before.0,
        after.0 - arrived.0,
        after.1,
    );
    school.server.stop().await
}

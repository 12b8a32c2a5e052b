//! What a class costs the server in front of it: an instructor who watches thirty benches live, and one who opens a
//! book of thirty students by forty assignments.

use std::time::Duration;

use cimento_store::{NewSheet, Store, Terms, To};
use reqwest::Method;
use serde_json::json;
use tokio::time::{Instant, sleep};

use crate::person::Person;
use crate::school::{self, Lesson, School};
use crate::{Book, Failure, Program, Watch};

/// Seconds of CPU while benches act for some seconds, watched by so many.
async fn acting(
    school: &School,
    people: &[(Person, i64)],
    args: &Watch,
    done: &mut [u64],
) -> Result<f64, Failure> {
    let before = school.server.used()?.0;
    let ends = Instant::now() + Duration::from_secs_f64(args.seconds);
    let pause = Duration::from_secs_f64(args.every / people.len() as f64);
    let mut nth = 0;
    while Instant::now() < ends {
        let (person, attempt) = &people[nth % people.len()];
        let count = &mut done[nth % people.len()];
        let position = ["off", "run", "start"][(*count % 3) as usize];
        let action = json!({"do": "set_control", "control": "key", "position": position});
        let body = json!({"after": *count, "request": count.to_string(), "action": action});
        let path = format!("/api/attempts/{attempt}/steps");
        if let Some(answer) = person.ask("step", Method::POST, &path, Some(&body)).await {
            *count = answer["steps"].as_u64().unwrap_or(*count + 1);
        }
        nth += 1;
        sleep(pause).await;
    }
    Ok(school.server.used()?.0 - before)
}

pub async fn watch(program: &Program, args: &Watch) -> Result<(), Failure> {
    let school = School::open(program, &["baggage-tug-starting"], args.students, None).await?;
    let lesson = Lesson::marked("Watched", 1, "W8");
    school::give(&school.instructor, &lesson, 0..args.students).await?;
    let mut people = Vec::new();
    for nth in 0..args.students {
        let (person, own) = school.student(nth).await?;
        let id = *own.first().ok_or("no attempt")?;
        people.push((person, id));
    }
    let mut done = vec![0; args.students];
    // Until the lesson has been thought through.
    acting(&school, &people, args, &mut done).await?;
    sleep(Duration::from_secs(5)).await;
    let alone = acting(&school, &people, args, &mut done).await?;
    let client = reqwest::Client::new();
    let cookie = school.instructor.cookie()?;
    let url = format!("{}/api/assignments/1/watch", school.server.url);
    let mut listening = client.get(url).header("Cookie", cookie).send().await?;
    let heard = tokio::spawn(async move {
        let (mut events, mut bytes) = (0_usize, 0_usize);
        while let Ok(Some(chunk)) = listening.chunk().await {
            bytes += chunk.len();
            events += usize::from(chunk.ends_with(b"\n\n"));
        }
        (events, bytes)
    });
    let watched = acting(&school, &people, args, &mut done).await?;
    let share = |cpu: f64| 100.0 * cpu / args.seconds;
    println!(
        "{} benches, a step each {} s, for {} s: {:.2} % of a core unwatched, {:.2} % watched by one",
        args.students,
        args.every,
        args.seconds,
        share(alone),
        share(watched)
    );
    school.server.stop().await?;
    let (events, bytes) = heard.await?;
    println!(
        "{events} events of {:.1} kB",
        bytes as f64 / 1e3 / events.max(1) as f64
    );
    school.measured.lock().await.print();
    Ok(())
}

pub async fn book(program: &Program, args: &Book) -> Result<(), Failure> {
    let (students, assignments) = (args.students, args.assignments);
    let school = School::open(program, &["baggage-tug-starting"], students, None).await?;
    let lesson = Lesson::marked("First", 1, "W8");
    school::give(&school.instructor, &lesson, 0..students).await?;
    // The rest is written beside the server: every attempt with a sheet as large as one of forty readings.
    let store = Store::open(&school.database)?;
    let sheet = "x".repeat(20_000);
    for _ in 1..assignments {
        let (_, attempts) = store.assign(1, 1, To::Class, &Terms::default(), 0)?;
        for (n, attempt) in attempts.into_iter().enumerate() {
            let new = NewSheet {
                engine: "load",
                made_at: 0,
                sheet: &sheet,
                debrief: &sheet,
                computed: (n % 100) as f64,
            };
            store.keep_sheet(attempt, &new)?;
        }
    }
    for _ in 0..args.times {
        let path = "/api/classes/1/book";
        school.instructor.ask("book", Method::GET, path, None).await;
        let path = "/api/classes/1/book.csv";
        school
            .instructor
            .ask("as CSV", Method::GET, path, None)
            .await;
        sleep(Duration::from_millis(100)).await;
    }
    println!("{students} students by {assignments} assignments");
    school.measured.lock().await.print();
    school.server.stop().await
}

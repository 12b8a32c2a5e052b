//! One long attempt: what a reading costs early and late, how large its answer is, and what a step, a screen
//! of the oscilloscope and a password take.

use reqwest::Method;
use serde_json::{Value, json};
use tokio::time::{Duration, sleep};

use crate::person::Person;
use crate::school::{self, Lesson, School};
use crate::{Attempt as Args, Failure, Program};

/// Questions a second: what is measured is asked faster than any hand would.
const AT_WILL: f64 = 1e6;
/// Readings of whose CPU the median is taken.
const OVER: usize = 50;
/// Screens taken, and passwords checked.
const FEW: usize = 20;

/// Readings of the attempt that is handed in.
const STEPS: usize = 40;

/// One attempt at a bench.
struct Bench<'a> {
    person: &'a Person,
    view: Value,
    steps: String,
    done: usize,
}

impl<'a> Bench<'a> {
    async fn open(person: &'a Person, id: &Value) -> Result<Self, Failure> {
        let path = format!("/api/attempts/{id}");
        let view = person.ask("open", Method::GET, &path, None).await;
        Ok(Self {
            person,
            view: view.ok_or("the attempt does not open")?,
            steps: format!("{path}/steps"),
            done: 0,
        })
    }

    /// Bytes of the compressed answer.
    async fn act(&mut self, kind: &'static str, action: Value) -> Result<usize, Failure> {
        let body = json!({"after": self.done, "request": self.done.to_string(), "action": action});
        let bytes = self.person.packed(kind, &self.steps, &body).await;
        self.done += 1;
        Ok(bytes.ok_or_else(|| format!("step {} failed", self.done))?)
    }
}

pub async fn run(program: &Program, args: &Args) -> Result<(), Failure> {
    let circuits = ["ground-power-unit-throttle", "baggage-tug-ignition"];
    let school = School::open(program, &circuits, 1, Some(AT_WILL)).await?;
    let (server, instructor, measured) = (&school.server, &school.instructor, &school.measured);
    let long = Lesson::marked("Long", 1, "W26");
    school::give(instructor, &long, 0..1).await?;
    let in_time = Lesson::marked("In time", 2, "W4").with_scope();
    school::give(instructor, &in_time, 0..1).await?;
    let handed_in = Lesson::marked("Handed in", 1, "W26");
    school::give(instructor, &handed_in, 0..1).await?;
    let student = Person::new(&server.url, measured)?;
    student
        .sign_in(&school::name(0))
        .await
        .ok_or("no student")?;
    // What the lessons need in the background is not the attempt's.
    let mut busy = server.used()?.0;
    loop {
        sleep(Duration::from_secs(2)).await;
        let now = server.used()?.0;
        if now - busy < 0.01 {
            break;
        }
        busy = now;
    }
    let before = server.used()?.0;
    for _ in 0..FEW {
        student
            .sign_in(&school::name(0))
            .await
            .ok_or("no student")?;
    }
    let password = (server.used()?.0 - before) / FEW as f64;
    println!("a password: {:.1} ms of CPU", 1e3 * password);
    let list = student
        .ask("list", Method::GET, "/api/attempts", None)
        .await
        .ok_or("no attempts")?;
    let on = |title: &str| {
        let all = list.as_array().into_iter().flatten();
        let mut found = all.filter(|a| a["title"] == title);
        found
            .next()
            .map(|a| a["id"].clone())
            .ok_or("no such attempt")
    };
    let mut bench = Bench::open(&student, &on("Long")?).await?;
    let points = bench.view["drawing"]["points"].as_array().cloned();
    let points = points.unwrap_or_default();
    let places = bench.view["places"].as_array().map_or(0, Vec::len);
    let negative = bench.view["drawing"]["negative"].clone();
    let key = json!({"do": "set_control", "control": "key", "position": "run"});
    bench.act("control", key).await?;
    let readings = usize::from(args.readings);
    let (mut spent, mut sizes) = (vec![server.fine_cpu()?], Vec::new());
    let empty = server.database_bytes().await?;
    for n in 1..=readings {
        let red = &points[n % points.len()]["id"];
        let reading =
            json!({"do": "take_reading", "function": "dc_volts", "red": red, "black": negative});
        sizes.push(bench.act("reading", reading).await?);
        spent.push(server.fine_cpu()?);
    }
    let median = |from: usize| {
        let each = spent[from..=from + OVER].windows(2);
        let mut each: Vec<f64> = each.map(|pair| 1e3 * (pair[1] - pair[0])).collect();
        each.sort_by(f64::total_cmp);
        each[OVER / 2]
    };
    let (early, late) = (10, readings - OVER);
    println!(
        "{places} places, {} points: of {OVER} DC readings the median takes {:.2} ms of CPU from the {early}th on, {:.2} from the {late}th",
        points.len(),
        median(early),
        median(late),
    );
    let most = sizes.iter().max().copied().unwrap_or(0);
    println!(
        "answers, compressed where the server does: {} bytes the 10th, {} the last, {most} at most",
        sizes[9.min(sizes.len() - 1)],
        sizes[sizes.len() - 1],
    );
    let read = server.database_bytes().await?;
    println!(
        "a reading in the database: {} bytes",
        (read - empty) / readings as u64
    );
    let mut bench = Bench::open(&student, &on("In time")?).await?;
    let lead = bench.view["drawing"]["leads"][0].clone();
    let key = json!({"do": "set_control", "control": "key", "position": "start"});
    bench.act("control", key).await?;
    let before = (server.used()?.0, server.database_bytes().await?);
    for n in 0..FEW {
        let sweep = 0.02 + 0.001 * n as f64;
        let scope = json!({"channels": [{"with": "pickup", "lead": lead}], "sweep_s": sweep});
        bench
            .act("capture", json!({"do": "capture", "scope": scope}))
            .await?;
    }
    let after = (server.used()?.0, server.database_bytes().await?);
    println!(
        "a screen of a cranking engine: {:.0} ms of CPU, {} bytes in the database",
        1e3 * (after.0 - before.0) / FEW as f64,
        (after.1 - before.1) / FEW as u64,
    );
    let mut bench = Bench::open(&student, &on("Handed in")?).await?;
    for n in 0..STEPS {
        let red = &points[n % points.len()]["id"];
        let reading =
            json!({"do": "take_reading", "function": "dc_volts", "red": red, "black": negative});
        bench.act("reading", reading).await?;
    }
    let before = server.database_bytes().await?;
    bench.act("hand in", json!({"do": "hand_in"})).await?;
    let path = bench.steps.replace("steps", "sheet");
    let sheet = || student.ask("sheet", Method::GET, &path, None);
    while sheet().await.is_some_and(|sheet| sheet["lines"].is_null()) {
        sleep(Duration::from_millis(500)).await;
    }
    let after = server.database_bytes().await?;
    println!(
        "sheet and debrief of {STEPS} readings: {} bytes",
        after - before
    );
    for _ in 0..FEW {
        sheet().await.ok_or("no sheet")?;
        let path = bench.steps.replace("steps", "debrief");
        student.ask("debrief", Method::GET, &path, None).await;
    }
    measured.lock().await.print();
    school.server.stop().await
}

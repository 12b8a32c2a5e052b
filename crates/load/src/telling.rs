//! Whether the time of an answer tells the fault: one student has a machine with one fault and another the same machine
//! with another of the same complaint. Both do the same, in turns drawn by lot; whoever looks at the first half of the
//! times guesses by the second half whose machine answered.

use std::collections::BTreeMap;
use std::time::Instant;

use reqwest::Method;
use serde_json::{Value, json};

use crate::person::Person;
use crate::school::{self, Lesson, School};
use crate::{Failure, Program, Telling};

/// Two faults of a circuit with one complaint.
struct Pair {
    circuit: &'static str,
    places: [&'static str; 2],
    /// Positions of the key that are gone through, over and over.
    positions: [&'static str; 3],
    /// A point where both read alike, and a plug to be taken apart.
    point: &'static str,
    plug: &'static str,
}

const PAIRS: [Pair; 3] = [
    Pair {
        circuit: "baggage-tug-starting",
        places: ["W8", "W11"],
        positions: ["run", "start", "off"],
        point: "S1.50",
        plug: "C12",
    },
    CRANKS,
    // One that runs with a plug that does not spark.
    Pair {
        places: ["W21", "W23"],
        positions: ["run", "start", "run"],
        ..CRANKS
    },
];

/// One that cranks and does not fire.
const CRANKS: Pair = Pair {
    circuit: "belt-loader-ignition",
    places: ["W4", "W9"],
    positions: ["run", "start", "off"],
    point: "BAT.+",
    plug: "X2",
};

/// Seconds of each answer, by the kind of question and by whose machine it was.
type Times = BTreeMap<&'static str, [Vec<f64>; 2]>;

/// What is done in a round, one after another, with what it is called.
fn round(pair: &Pair) -> Vec<(&'static str, Value)> {
    let mut out = Vec::new();
    for position in pair.positions {
        out.push((
            "key",
            json!({"do": "set_control", "control": "key", "position": position}),
        ));
        out.push((
            "reading",
            json!({"do": "take_reading", "function": "dc_volts", "red": pair.point, "black": "BAT.-"}),
        ));
    }
    out.push(("complaint", json!({"do": "try_complaint"})));
    let screen =
        json!({"channels": [{"with": "leads", "red": "BAT.+", "black": "BAT.-"}], "sweep_s": 0.1});
    out.push(("screen", json!({"do": "capture", "scope": screen})));
    out.push((
        "engine",
        json!({"do": "set_control", "control": "engine", "position": "idle"}),
    ));
    out.push(("apart", json!({"do": "take_apart", "what": pair.plug})));
    out.push(("together", json!({"do": "put_back", "what": pair.plug})));
    out.push((
        "name",
        json!({"do": "name_fault", "place": pair.plug, "mode": "none"}),
    ));
    out
}

/// Somebody with an attempt, and how many steps it has.
struct Bench {
    person: Person,
    path: String,
    done: u64,
}

impl Bench {
    /// Does something, and says how many seconds it took, refused or not.
    async fn act(&mut self, action: &Value) -> Result<f64, Failure> {
        let body = json!({"after": self.done, "request": format!("{}", fastrand::u64(..)), "action": action});
        let began = Instant::now();
        let answer = self.person.answer(Method::POST, &self.path, &body).await?;
        let took = began.elapsed().as_secs_f64();
        self.done = answer["steps"].as_u64().unwrap_or(self.done);
        Ok(took)
    }
}

/// How many of the second half are told right by the border that tells the first half best.
fn guessed(times: &[Vec<f64>; 2]) -> (usize, usize) {
    let half = times[0].len().min(times[1].len()) / 2;
    let [known, asked] = [0..half, half..2 * half].map(|range| {
        let of = |whose: usize| times[whose][range.clone()].iter().map(move |t| (*t, whose));
        of(0).chain(of(1)).collect::<Vec<_>>()
    });
    let right = |border: f64, above: usize, seen: &[(f64, usize)]| {
        let told = |t: f64| if t > border { above } else { 1 - above };
        seen.iter().filter(|(t, whose)| told(*t) == *whose).count()
    };
    let borders = known.iter().flat_map(|(t, _)| [(*t, 0), (*t, 1)]);
    let best = borders.max_by_key(|(border, above)| right(*border, *above, &known));
    best.map_or((0, 0), |(border, above)| {
        (right(border, above, &asked), asked.len())
    })
}

/// How far the ranks of the two are apart, in standard deviations of what chance makes of them (rank-sum test of
/// Mann and Whitney, 1947).
fn ranks_apart(times: &[Vec<f64>; 2]) -> f64 {
    let [a, b] = times;
    let (n, m) = (a.len() as f64, b.len() as f64);
    let above = |x: f64| {
        b.iter()
            .map(|y| f64::from(u8::from(x > *y)) + 0.5 * f64::from(u8::from(x == *y)))
            .sum::<f64>()
    };
    let u: f64 = a.iter().map(|x| above(*x)).sum();
    (u - n * m / 2.0) / (n * m * (n + m + 1.0) / 12.0).sqrt()
}

fn median(times: &[f64]) -> f64 {
    let mut sorted = times.to_vec();
    sorted.sort_by(f64::total_cmp);
    sorted[sorted.len() / 2]
}

/// Works one pair of faults; whether more than chance was told.
async fn work(program: &Program, pair: &Pair, requests: usize) -> Result<bool, Failure> {
    let school = School::open(program, &[pair.circuit], 2, Some(1e6)).await?;
    let mut benches = Vec::new();
    for (nth, place) in pair.places.into_iter().enumerate() {
        let lesson = Lesson::marked("One", 1, place).with_scope();
        school::give(&school.instructor, &lesson, std::iter::once(nth)).await?;
        let (person, own) = school.student(nth).await?;
        let id = own.first().ok_or("no attempt")?;
        let path = format!("/api/attempts/{id}/steps");
        benches.push(Bench {
            person,
            path,
            done: 0,
        });
    }
    let mut complaints = Vec::new();
    for bench in &benches {
        let path = bench.path.trim_end_matches("/steps");
        let seen = bench.person.ask("look", Method::GET, path, None).await;
        complaints.push(seen.ok_or("no bench")?["complaint"].clone());
    }
    if complaints[0] != complaints[1] {
        return Err(format!("{}: {complaints:?} are two complaints", pair.circuit).into());
    }
    let actions = round(pair);
    // Not the first rounds, in which everything is done for the first time.
    for bench in &mut benches {
        for (_, action) in &actions {
            bench.act(action).await?;
        }
    }
    let mut times = Times::new();
    let rounds = requests.div_ceil(2 * actions.len());
    for _ in 0..rounds {
        for (kind, action) in &actions {
            let first = fastrand::usize(..2);
            for whose in [first, 1 - first] {
                let took = benches[whose].act(action).await?;
                times.entry(kind).or_default()[whose].push(took);
            }
        }
    }
    println!(
        "{} with {} or {}",
        pair.circuit, pair.places[0], pair.places[1]
    );
    println!(
        "  {:<10} {:>6} {:>9} {:>9} {:>9} {:>9} {:>9}",
        "kind", "asked", "p50 ms", "p50 ms", "most ms", "apart σ", "told"
    );
    let (mut right, mut of, mut worst) = (0, 0, 0.0_f64);
    for (kind, both) in &times {
        let (told, asked) = guessed(both);
        let apart = ranks_apart(both);
        let most = both.iter().flatten().copied().fold(0.0, f64::max);
        println!(
            "  {kind:<10} {:>6} {:>9.2} {:>9.2} {:>9.2} {apart:>9.2} {:>8.0}%",
            both[0].len() + both[1].len(),
            1e3 * median(&both[0]),
            1e3 * median(&both[1]),
            1e3 * most,
            100.0 * told as f64 / asked.max(1) as f64,
        );
        (right, of, worst) = (right + told, of + asked, worst.max(apart.abs()));
    }
    let share = right as f64 / f64::from(u32::try_from(of)?);
    let chance = 0.5 + SIGMAS * (0.25 / of as f64).sqrt();
    let tells = share > chance || worst > APART;
    println!(
        "  told {:.1} % of {of}, where chance tells up to {:.1} %; ranks at most {worst:.1} σ apart, where chance makes up to {APART}: {}",
        100.0 * share,
        100.0 * chance,
        if tells {
            "THE TIME TELLS"
        } else {
            "nothing is told"
        },
    );
    school.server.stop().await?;
    Ok(tells)
}

/// Once in a hundred runs chance alone goes further, over all guesses of a pair of faults and over the ranks of its
/// kinds of questions.
const SIGMAS: f64 = 2.33;
const APART: f64 = 3.3;

pub async fn run(program: &Program, args: &Telling) -> Result<(), Failure> {
    let mut told = 0;
    for pair in &PAIRS {
        told += usize::from(work(program, pair, args.requests).await?);
    }
    match told {
        0 => Ok(()),
        _ => Err(format!("the time of answers tells the fault on {told} machines").into()),
    }
}

//! Long sequences of everything that can be done, by two students whose machines differ in their fault alone: as long as
//! nothing was done that shows a difference, all they can receive is the same to the letter.
//!
//! `CHANCE=1 cargo test --release -p cimento-server --test server sequences` draws others, and more of them.

use std::sync::Arc;

use cimento_diagnosis::attempt::{Action, Answer, Session};
use cimento_diagnosis::lesson::Lesson;
use cimento_fuzz::sequence::AtHand;
use fastrand::Rng;
use serde_json::Value;

use crate::common::{School, act};
use crate::secrecy::timeless;

/// Steps of a sequence, and sequences of each pair of faults; and by chance.
const STEPS: usize = 60;
const SEQUENCES: u64 = 2;
const BY_CHANCE: u64 = 12;

/// Circuits, and faults in them of one complaint.
const PAIRS: [(&str, [&str; 2]); 5] = [
    ("baggage-tug-starting", ["W8:open", "W11:open"]),
    (
        "baggage-tug-starting",
        ["C12.4:high_resistance=61", "W8:open"],
    ),
    ("sweeper-lamps", ["W12:open", "W15:open"]),
    ("belt-loader-module", ["W13:open", "W16:open"]),
    ("belt-loader-ignition", ["W4:open", "W9:open"]),
];

/// What one who looks at a bench sees of an answer, a screen to its millivolt: less is no difference that anybody could have
/// measured, and must be in no answer.
fn seen(answer: &Answer) -> Vec<String> {
    match answer {
        Answer::Noticed { notices } | Answer::LeadBlew { notices } => {
            notices.iter().map(|n| n.text.clone()).collect()
        }
        Answer::Complaint { complaint } => vec![complaint.text.clone()],
        Answer::Reading { reading } => {
            vec![
                reading.shown.text.clone(),
                reading.shown.unit.clone(),
                reading.blew.to_string(),
            ]
        }
        Answer::Captured { capture } => {
            let traces = capture.traces.iter();
            let points = traces.flat_map(|t| t.columns.iter().flatten().map(|v| format!("{v:.3}")));
            points.collect()
        }
        Answer::Seen { text }
        | Answer::Repaired { text }
        | Answer::SeenAgain { text, .. }
        | Answer::Told { text }
        | Answer::CameToNothing { text } => {
            vec![text.clone()]
        }
        Answer::Noted | Answer::HandedIn => vec![],
    }
}

/// A student's bench over the API, and the same beside it.
struct Bench {
    school: School,
    student: String,
    beside: Session,
}

impl Bench {
    async fn new(circuit: &str, fault: &str) -> Self {
        let school = School::with_circuit(circuit);
        let fault = cimento_model::faults::read_short_form(fault).unwrap();
        school.give_out(serde_json::to_value(&fault).unwrap()).await;
        let student = school.sign_in("varga", "red-and-black").await;
        let lesson = Lesson::new(school.store().lesson(1).unwrap().document).unwrap();
        let beside = Session::start(&lesson);
        Self {
            school,
            student,
            beside,
        }
    }

    fn lesson(&self) -> &Arc<Lesson> {
        &self.beside.lesson
    }

    /// Everything that a student of it can look at after a step.
    async fn receives(&self, body: Value, step: usize) -> Vec<String> {
        let mut out = Vec::new();
        let steps = "/api/attempts/1/steps";
        let csv = format!("/api/attempts/1/captures/{step}");
        for (method, path, body) in [
            ("POST", steps, Some(body)),
            ("GET", "/api/attempts/1", None),
            ("GET", csv.as_str(), None),
            ("GET", "/api/attempts", None),
            ("GET", "/api/attempts/1/sheet", None),
        ] {
            // What is only told after a step costs nothing else.
            if method == "GET" && !step.is_multiple_of(8) && path != csv {
                continue;
            }
            let answer = self
                .school
                .ask(method, path, Some(&self.student), body)
                .await;
            out.push(format!("{} {}", answer.status, timeless(&answer.text)));
        }
        out
    }
}

/// What an action is answered beside the API, coarsely; a word where it is refused.
fn tried(session: &Session, action: &Value) -> (Vec<String>, Option<Session>) {
    let Ok(action) = serde_json::from_value::<Action>(action.clone()) else {
        return (vec!["not read".to_owned()], None);
    };
    let mut after = session.clone();
    match after.act(action) {
        Ok(step) => {
            let mut seen = seen(&step.answer);
            // Whoever stands at the machine sees it, whatever it is that they do.
            let notices = after.bench().notices().into_iter();
            seen.extend(notices.filter(|n| !n.hidden).map(|n| n.text));
            (seen, Some(after))
        }
        Err(_) => (vec!["refused".to_owned()], None),
    }
}

/// Two texts from shortly before the first difference on.
fn differ<'t>(a: &'t str, b: &'t str) -> [&'t str; 2] {
    let same = a.bytes().zip(b.bytes()).take_while(|(a, b)| a == b).count();
    [a, b].map(|text| {
        let from = (0..=same.saturating_sub(80))
            .rev()
            .find(|n| text.is_char_boundary(*n));
        let rest = &text[from.unwrap_or(0)..];
        let end = rest
            .char_indices()
            .nth(300)
            .map_or(rest.len(), |(at, _)| at);
        &rest[..end]
    })
}

async fn sequence((circuit, faults): (&str, [&str; 2]), seed: u64) {
    let mut benches = [
        Bench::new(circuit, faults[0]).await,
        Bench::new(circuit, faults[1]).await,
    ];
    let complaints = benches.each_ref().map(|b| b.lesson().symptom.text.clone());
    assert_eq!(
        complaints[0], complaints[1],
        "{circuit} {faults:?} is one complaint"
    );
    let at_hand = AtHand::of(benches[0].lesson());
    let mut rng = Rng::with_seed(seed);
    let (mut equal, mut refused, mut told_apart) = (0, 0, 0);
    for no in 0..STEPS {
        let done = benches[0].beside.steps().len();
        let action = at_hand.action(done, &mut rng);
        let [a, b] = [0, 1].map(|n: usize| tried(&benches[n].beside, &action));
        // What shows a difference tells the machines apart, as it should: it is not done.
        if a.0 != b.0 {
            told_apart += 1;
            continue;
        }
        let body = act(done, &format!("step {no}"), action.clone());
        let [first, second] = &benches;
        let (first, second) =
            tokio::join!(first.receives(body.clone(), no), second.receives(body, no));
        for (a, b) in first.iter().zip(&second) {
            let [a, b] = differ(a, b);
            assert_eq!(
                a, b,
                "{circuit} {faults:?}, seed {seed}, step {no}: {action}"
            );
        }
        equal += 1;
        match (a.1, b.1) {
            (Some(a), Some(b)) => {
                benches[0].beside = a;
                benches[1].beside = b;
            }
            _ => refused += 1,
        }
    }
    assert!(
        equal > STEPS / 2 && equal > refused,
        "{circuit}: most of it is done: {equal} alike, {refused} of them refused, {told_apart} told apart"
    );
}

#[tokio::test]
async fn two_faults_are_alike_over_whole_sequences_until_something_shows() {
    let (seeds, sequences) = match std::env::var_os("CHANCE") {
        Some(_) => (fastrand::u64(..u64::MAX / 2), BY_CHANCE),
        None => (1, SEQUENCES),
    };
    for pair in PAIRS {
        // Sparks are followed in time, which is slow.
        let sequences = match pair.0.ends_with("ignition") {
            true => sequences / 2,
            false => sequences,
        };
        for n in 0..sequences {
            sequence(pair, seeds + n).await;
        }
    }
}

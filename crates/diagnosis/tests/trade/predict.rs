//! Readings predicted on paper: what is asked, why a voltage stands where it stands, and what the answers earn.

use std::sync::Arc;

use cimento_bench::instruments::Function;
use cimento_diagnosis::attempt::actions::{HandIn, PredictReading, TryComplaint};
use cimento_diagnosis::attempt::{Action, Refusal, Session};
use cimento_diagnosis::lesson::{Lesson, LessonDoc, Purpose, Task};
use cimento_diagnosis::marking::{MarkSheet, at_once};
use cimento_diagnosis::predict::{AskedReading, LONGEST, Predict, Reason, propose};
use cimento_model::circuit::{Circuit, Refused};
use cimento_model::faults::{Fault, FaultDoc, read_short_form};
use cimento_model::state::OperatingState;

use crate::common::{demo, demo_names, reading};

/// Work lamps on or off, the markers off.
fn state(circuit: &Circuit, on: bool) -> OperatingState {
    let mut state = OperatingState::at_rest(circuit);
    if on {
        state.inputs.insert("work lamps".into(), "on".into());
    }
    state
}

fn volts(red: &str, black: &str, state: OperatingState) -> AskedReading {
    AskedReading {
        function: Function::DC_VOLTS,
        red: red.to_owned(),
        black: Some(black.to_owned()),
        state,
    }
}

fn doc(
    circuit: &Circuit,
    faults: Vec<FaultDoc>,
    ask: Vec<AskedReading>,
    reason_marks: f64,
) -> LessonDoc {
    LessonDoc {
        task: Task::Predict(Predict { ask, reason_marks }),
        ..LessonDoc::of("What will it show?", circuit.doc.clone(), faults)
    }
}

fn lamps(fault: Option<&str>, ask: &[(&str, &str, bool)], reason_marks: f64) -> Arc<Lesson> {
    let circuit = demo("sweeper-lamps");
    let faults = fault.map(|f| read_short_form(f).unwrap());
    let ask = ask
        .iter()
        .map(|(red, black, on)| volts(red, black, state(&circuit, *on)))
        .collect();
    Lesson::new(doc(
        &circuit,
        faults.into_iter().collect(),
        ask,
        reason_marks,
    ))
    .unwrap()
}

fn write(session: &mut Session, no: usize, expected: &str, reason: Option<Reason>) {
    let expected = expected.to_owned();
    let it = PredictReading {
        no,
        expected,
        reason,
    };
    session.act(Action::from(it)).unwrap();
}

fn handed_in(session: &mut Session) -> MarkSheet {
    session.act(Action::from(HandIn {})).unwrap();
    at_once(&session.lesson, session.steps())
        .unwrap()
        .unwrap()
        .0
}

/// A lamp, its switch and its ground. Common practice: no current, no drop, so the full supply stands beyond a load whose
/// ground is lost; a load that is lit uses all but a little of it.
#[test]
fn a_voltage_has_the_reason_that_the_trade_gives_it() {
    use Reason::{
        Dropped, Grounded, HeldByOpen, NoLoss, NotReached, NothingFlows, SupplyAtRest,
        SupplyUnderLoad, UsedUp,
    };
    let reasons = |fault: Option<&str>, red: &str, black: &str, on: bool| {
        lamps(fault, &[(red, black, on)], 30.0).predicted[0]
            .holds
            .clone()
    };
    let ground = |red: &str, on: bool| reasons(None, red, "BAT.-", on);
    assert_eq!(ground("S1.1", false), [SupplyAtRest]);
    assert_eq!(ground("S1.2", false), [NotReached]);
    assert_eq!(ground("H1.1", true), [SupplyUnderLoad]);
    assert_eq!(ground("H1.2", true), [UsedUp, Grounded]);
    assert_eq!(ground("G2", false), [Grounded]);
    assert_eq!(reasons(None, "S1.1", "S1.2", false), [HeldByOpen]);
    assert_eq!(reasons(None, "S1.1", "S1.2", true), [NoLoss]);
    assert_eq!(reasons(None, "H1.1", "H1.2", true), [Dropped]);
    assert_eq!(reasons(None, "H1.1", "H1.2", false), [NothingFlows]);
    // The ground is lost that both lamps share: the other lamp and the switch are off, so nothing flows.
    let lost = |red: &str, black: &str| reasons(Some("W15:open"), red, black, true);
    assert_eq!(lost("C5.3m", "G2"), [HeldByOpen]);
    assert_eq!(lost("G2", "BAT.-"), [Grounded]);
    // A bad joint in its feed divides the supply with the lamp.
    let divided = reasons(Some("W10:high_resistance=3"), "H1.1", "BAT.-", true);
    assert_eq!(divided, [Reason::Divided]);
}

/// Whoever knows it all has all marks, who writes nothing none; the right kind is worth half, and the last word counts.
#[test]
fn predictions_earn_by_tolerance_kind_and_reason() {
    let ask = [
        ("S1.1", "BAT.-", false),
        ("H1.1", "BAT.-", true),
        ("H1.2", "BAT.-", true),
    ];
    let lesson = lamps(None, &ask, 30.0);
    let empty = handed_in(&mut Session::start(&lesson));
    assert_eq!(empty.total, 0.0);
    assert_eq!(empty.lines.len(), 2);
    let mut knows = Session::start(&lesson);
    for (n, truth) in lesson.predicted.iter().enumerate() {
        let text = truth.shown.value.number().to_string();
        write(&mut knows, n + 1, &text, truth.holds.first().copied());
    }
    assert_eq!(handed_in(&mut knows).total, 100.0);

    let mut half = Session::start(&lesson);
    write(&mut half, 1, "0", Some(Reason::NotReached));
    write(&mut half, 1, "12.6 V", Some(Reason::SupplyAtRest));
    // Near the supply, and not what a lit lamp leaves of it.
    write(&mut half, 2, "14", Some(Reason::SupplyAtRest));
    write(&mut half, 3, "about 0", None);
    let view = half.view();
    assert_eq!(view.predicted.len(), 3);
    assert_eq!(view.missing, ["One prediction has no reason."]);
    let sheet = handed_in(&mut half);
    let said = &sheet.lines[0].details[1].text;
    assert!(
        said.contains("H1.1 to BAT.-, work lamps on"),
        "no key on this machine: {said}"
    );
    let earned =
        |line: usize| -> Vec<f64> { sheet.lines[line].details.iter().map(|d| d.earned).collect() };
    assert_eq!(earned(0), [1.0, 0.5, 1.0], "{sheet:?}");
    assert_eq!(earned(1), [1.0, 0.0, 0.0], "{sheet:?}");
    assert_eq!(sheet.total, 68.3, "70 · 2.5 ÷ 3 + 30 ÷ 3");
    assert!(sheet.lines[0].details[1].text.contains("the right kind"));

    let values_only = lamps(None, &ask, 0.0);
    let mut session = Session::start(&values_only);
    assert!(values_only.predicted.iter().all(|t| t.choice.is_empty()));
    write(&mut session, 1, "12.6", None);
    let sheet = handed_in(&mut session);
    assert_eq!((sheet.lines.len(), sheet.total), (1, 33.3));
}

/// Nothing is measured or moved, and what is no answer costs nothing and says what is expected.
#[test]
fn nothing_is_measured_on_paper() {
    let lesson = lamps(Some("W15:open"), &[("H1.2", "BAT.-", true)], 30.0);
    let mut session = Session::start(&lesson);
    let refused = |session: &mut Session, action: Action, words: &str| {
        let Err(Refusal::BadAction(text)) = session.act(action) else {
            panic!("expected a refusal about “{words}”");
        };
        assert!(text.contains(words), "{text}");
        assert!(session.steps().is_empty());
    };
    let measure = reading(Function::DC_VOLTS, "H1.2", Some("BAT.-"), Some("12"));
    refused(&mut session, measure, "nothing is measured here");
    refused(
        &mut session,
        TryComplaint {}.into(),
        "nothing is measured here",
    );
    let predict = |no: usize, expected: &str, reason: Option<Reason>| {
        let expected = expected.to_owned();
        Action::from(PredictReading {
            no,
            expected,
            reason,
        })
    };
    refused(&mut session, predict(0, "12", None), "expected 1 to 1");
    refused(&mut session, predict(2, "12", None), "expected 1 to 1");
    refused(&mut session, predict(1, "OL", None), "volts are never OL");
    refused(
        &mut session,
        predict(1, "12", Some(Reason::NoLoss)),
        "no reason to choose from",
    );
    // On a bench nothing is predicted without measuring.
    let circuit = demo("sweeper-lamps");
    let fault = read_short_form("W15:open").unwrap();
    let bench = Lesson::new(LessonDoc::of("Lamps", circuit.doc.clone(), vec![fault])).unwrap();
    refused(
        &mut Session::start(&bench),
        predict(1, "12", None),
        "take the reading",
    );
}

/// Bad documents are refused with the place of the mistake.
#[test]
fn a_lesson_that_asks_for_nonsense_is_refused() {
    let circuit = demo("sweeper-lamps");
    let good = volts("H1.1", "BAT.-", state(&circuit, true));
    let refused = |doc: LessonDoc| match Lesson::new(doc) {
        Err(Refused(problems)) => format!("{}: {}", problems[0].path, problems[0].message),
        Ok(_) => panic!("expected a refusal"),
    };
    let asks = |ask: Vec<AskedReading>| doc(&circuit, Vec::new(), ask, 30.0);
    assert!(refused(asks(Vec::new())).starts_with("task.ask: expected 1 to 40"));
    let twice = refused(asks(vec![good.clone(), good.clone()]));
    assert!(
        twice.starts_with("task.ask[1]: it is asked for twice"),
        "{twice}"
    );
    let nowhere = volts("H9.1", "BAT.-", state(&circuit, true));
    let text = refused(asks(vec![good.clone(), nowhere]));
    assert!(
        text.starts_with("task.ask[1]") && text.contains("H9.1"),
        "{text}"
    );
    let mut odd = good.clone();
    odd.state
        .inputs
        .insert("work lamps".into(), "sideways".into());
    let text = refused(asks(vec![odd]));
    assert!(text.starts_with("task.ask[0]"), "{text}");
    let text = refused(doc(&circuit, Vec::new(), vec![good.clone()], 120.0));
    assert!(text.starts_with("task.reason_marks"), "{text}");
    let tools = LessonDoc {
        purpose: Purpose::Tools,
        ..asks(vec![good])
    };
    assert!(refused(tools).starts_with("task: "));
}

/// On every machine there are readings worth asking, none twice, of several kinds and states; what is claimed of each
/// holds, and a lesson can be made of them.
#[test]
fn proposals_make_a_lesson_of_every_machine() {
    for name in demo_names() {
        let circuit = demo(&name);
        // Sparks are followed in time, in `make thorough`.
        if circuit.sparks() {
            continue;
        }
        let limits = cimento_diagnosis::lesson::Limits::default();
        let all: Vec<Function> = Function::all().collect();
        let found = propose(&circuit, &[], &limits, &all).unwrap();
        assert!(
            (8..=LONGEST).contains(&found.len()),
            "{name}: {}",
            found.len()
        );
        let first = &found[..8];
        let states: std::collections::HashSet<_> = first.iter().map(|t| &t.state).collect();
        let points: std::collections::HashSet<_> = first.iter().map(|t| &t.asked.red).collect();
        assert!(states.len() >= 2, "{name}: one state among the first eight");
        assert!(points.len() >= 6, "{name}: {points:?}");
        for truth in &found {
            assert!(
                truth.holds.iter().all(|r| truth.choice.contains(r)),
                "{name}"
            );
            let red = circuit.test_point(&truth.asked.red).map(|p| p.node);
            let of_volts = truth.asked.function == Function::DC_VOLTS && red.is_some();
            assert_eq!(
                of_volts,
                !truth.choice.is_empty(),
                "{name}: {:?}",
                truth.asked
            );
        }
        let ask = first.iter().map(|t| t.asked.clone()).collect();
        let lesson = Lesson::new(doc(&circuit, Vec::new(), ask, 30.0)).unwrap();
        assert_eq!(lesson.predicted, first, "{name}");
    }
}

/// A fault that is told is asked about where it changes something.
#[test]
fn a_known_fault_is_asked_about_where_it_shows() {
    let circuit = demo("sweeper-lamps");
    let limits = cimento_diagnosis::lesson::Limits::default();
    let all: Vec<Function> = Function::all().collect();
    let fault = Fault::read(&circuit, &read_short_form("W15:open").unwrap(), "fault").unwrap();
    let sound = propose(&circuit, &[], &limits, &all).unwrap();
    let found = propose(&circuit, &[fault], &limits, &all).unwrap();
    let differs = found[..8]
        .iter()
        .filter(|t| {
            !sound
                .iter()
                .any(|s| s.asked == t.asked && s.shown == t.shown)
        })
        .count();
    assert!(
        differs >= 4,
        "{differs} of the first eight tell of the fault"
    );
}

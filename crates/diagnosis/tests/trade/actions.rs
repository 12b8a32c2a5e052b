//! What a student does at the machine beside measuring, and what the machine makes of it.

use cimento_diagnosis::attempt::actions::{
    CoolDown, Dry, FitKnownGood, FitOwn, Inspect, Join, PutBack, RenewMeterFuse, Repair, Rest,
    SetControl, Support, Swap, TakeApart, TakeCapture, TryComplaint, Unjoin, Unsupport, Wait,
    WarmUp, Wet, Wiggle, ZeroLeads,
};
use std::sync::Arc;

use crate::common;

use cimento_bench::instruments::{Acquire, Attenuation, Function, Probe, Scope};
use cimento_diagnosis::attempt::{
    Action, Answer, RepairKind, Session, Warning, perform, repairs, seen, warnings,
};
use cimento_diagnosis::lesson::Lesson;
use cimento_model::circuit::{Circuit, DangerousAct};

fn lesson(circuit: &Arc<Circuit>, faults: &[&str]) -> Arc<Lesson> {
    common::lesson(circuit, &common::faults(circuit, faults)).expect("the fault shows")
}

fn control(name: &str, at: &str) -> Action {
    Action::SetControl(SetControl {
        control: name.to_owned(),
        position: at.to_owned(),
    })
}

fn join(from: &str, to: &str, fused: bool) -> Action {
    Action::Join(Join {
        from: from.to_owned(),
        to: to.to_owned(),
        fused,
    })
}

/// Does some actions and gives the last answer.
fn done(session: &mut Session, actions: &[Action]) -> Answer {
    let mut last = Answer::Noted;
    for action in actions {
        last = session.act(action.clone()).unwrap().answer.clone();
    }
    last
}

/// What an instrument shows now.
fn shown(session: &mut Session, function: Function, red: &str, black: Option<&str>) -> f64 {
    let action = common::reading(function, red, black, None);
    match done(session, &[action]) {
        Answer::Reading { reading } => reading.shown.value.number(),
        other => panic!("no reading: {other:?}"),
    }
}

fn complaint(session: &mut Session) -> String {
    match done(session, &[Action::TryComplaint(TryComplaint {})]) {
        Answer::Complaint { complaint } => complaint.text,
        other => panic!("no complaint: {other:?}"),
    }
}

/// What only the machine can tell is no refusal that can be had for nothing: it is a step, with its minutes.
#[test]
fn what_comes_to_nothing_is_a_step_with_its_minutes() {
    let circuit = common::demo("belt-loader-ignition");
    let lesson = lesson(&circuit, &["W3:open"]);
    let mut session = Session::start(&lesson);
    let before = session.view();
    let said = done(&mut session, &[control("engine", "idle")]);
    assert_eq!(
        said,
        Answer::CameToNothing {
            text: "the engine does not start".to_owned()
        }
    );
    let after = session.view();
    assert_eq!(
        (after.steps, after.minutes, &after.state),
        (1, 1.0, &before.state)
    );
    assert_eq!(
        after.came_to_nothing.as_deref(),
        Some("the engine does not start")
    );
    // Once the wire is joined it starts, and some hundred volts are at the coil: more than leads at ×1 stand.
    let join = Action::Repair(Repair::of("W3", RepairKind::Join));
    let runs = [join, control("key", "run"), control("engine", "idle")];
    done(&mut session, &runs);
    assert_eq!(session.bench().state().control("engine"), "idle");
    let screen = |attenuation| {
        Action::Capture(TakeCapture {
            scope: Scope {
                channels: vec![Probe::Leads {
                    red: "T1.1".to_owned(),
                    black: "BAT.-".to_owned(),
                }],
                sweep_s: 0.1,
                level: None,
                falling: false,
                attenuation,
                acquire: Acquire::Peak,
            },
            expected: vec![],
            partner_expected: Vec::new(),
        })
    };
    let spent = session.view().minutes;
    let said = done(&mut session, &[screen(Attenuation::One)]);
    let text = "there are more than 60 V at T1.1: set the attenuation to ×10";
    assert_eq!(
        said,
        Answer::CameToNothing {
            text: text.to_owned()
        }
    );
    assert!(session.view().minutes >= spent + 2.0 && session.view().captures.is_empty());
    assert!(session.steps()[4].said().ends_with(text));
    // An attempt that is gone through again is the same attempt.
    let again = Session::resume(&lesson, session.steps()).unwrap();
    assert_eq!(again.steps(), session.steps());
    assert_eq!(again.view(), session.view());
    // What cannot be done for another reason is still refused, and costs nothing.
    assert!(session.act(control("engine", "backwards")).is_err());
    assert_eq!(session.steps().len(), 5);
}

#[test]
fn a_lead_around_an_open_wire_makes_the_machine_crank_until_it_is_taken_off() {
    let circuit = common::tug();
    let lesson = lesson(&circuit, &["W8:open"]);
    let mut session = Session::start(&lesson);
    let around = join("C12.4f", "C14.1m", true);
    assert!(matches!(
        done(&mut session, &[around]),
        Answer::Noticed { .. }
    ));
    assert!(complaint(&mut session).starts_with("Cranks"));
    assert_eq!(
        session.view().joined,
        [["C12.4f".to_owned(), "C14.1m".to_owned()]]
    );
    let off = Action::Unjoin(Unjoin {
        from: "C12.4f".to_owned(),
        to: "C14.1m".to_owned(),
    });
    done(&mut session, &[off]);
    assert!(complaint(&mut session).starts_with("No crank"));
}

/// The fuse in a lead saves it: it goes, joins nothing, and nothing else has changed.
#[test]
fn a_fused_lead_across_the_battery_blows_and_an_open_one_carries_hundreds_of_amperes() {
    let circuit = common::tug();
    let lesson = lesson(&circuit, &["W8:open"]);
    let mut session = Session::start(&lesson);
    let blown = done(&mut session, &[join("BAT.+", "BAT.-", true)]);
    assert!(matches!(blown, Answer::LeadBlew { .. }), "{blown:?}");
    assert!(session.view().joined.is_empty());
    assert!(shown(&mut session, Function::DC_VOLTS, "BAT.+", Some("BAT.-")) > 12.5);
    done(&mut session, &[join("BAT.+", "BAT.-", false)]);
    // 20 mΩ of lead on 12.6 V behind 5.4 V ÷ 600 A, of which three quarters are left when warm
    // (6.75 mΩ): 12.6 · 20 ÷ 26.75 = 9.42 V.
    let left = shown(&mut session, Function::DC_VOLTS, "BAT.+", Some("BAT.-"));
    assert!((left - 9.42).abs() < 0.02, "a dead short leaves {left} V");
}

/// A jump pack turns an engine that its own run-down battery does not, though that battery still stands
/// near 12 V (common practice: 12 V at rest is a battery with a fifth of its charge).
#[test]
fn a_jump_pack_helps_a_flat_battery() {
    let circuit = common::tug();
    let lesson = lesson(&circuit, &["BAT:discharged=0.8"]);
    let mut session = Session::start(&lesson);
    let rest = shown(&mut session, Function::DC_VOLTS, "BAT.+", Some("BAT.-"));
    assert!((11.9..12.1).contains(&rest), "{rest} V at rest");
    let before = complaint(&mut session);
    let pack = Action::Support(Support {
        plus: "BAT.+".to_owned(),
        minus: "BAT.-".to_owned(),
    });
    done(&mut session, &[pack]);
    assert!(session.view().supported);
    let with = complaint(&mut session);
    assert!(
        with.starts_with("Cranks") && with != before,
        "{before} then {with}"
    );
    done(&mut session, &[Action::Unsupport(Unsupport {})]);
    assert_eq!(complaint(&mut session), before);
}

/// A break that opens when its harness is moved is there while it is moved, by place or by harness.
#[test]
fn a_break_that_shows_when_moved() {
    let circuit = common::tug();
    let mut fault = common::fault(&circuit, "W8:open");
    fault.when = cimento_model::faults::Condition::Moved;
    let lesson = common::lesson(&circuit, &[fault]).unwrap();
    let mut session = Session::start(&lesson);
    assert!(
        complaint(&mut session).starts_with("Cranks"),
        "at rest it works"
    );
    let wiggle = |what: &str| {
        Action::Wiggle(Wiggle {
            what: what.to_owned(),
        })
    };
    for (what, cranks) in [
        ("W7", true),
        ("W8", false),
        ("dash", true),
        ("engine", false),
    ] {
        done(&mut session, &[wiggle(what)]);
        assert_eq!(
            complaint(&mut session).starts_with("Cranks"),
            cranks,
            "{what}"
        );
    }
    done(&mut session, &[Action::Rest(Rest {})]);
    assert!(session.view().moved.is_empty());
    assert!(complaint(&mut session).starts_with("Cranks"));
    let refused = session.act(wiggle("W99")).unwrap_err().to_string();
    assert!(refused.contains("no place or harness W99"), "{refused}");
}

/// Heat and wet bring their faults and take them away again.
#[test]
fn warm_and_wet_bring_their_faults() {
    let circuit = common::tug();
    let cases = [
        (
            cimento_model::faults::Condition::Hot,
            Action::WarmUp(WarmUp {}),
            Action::CoolDown(CoolDown {}),
        ),
        (
            cimento_model::faults::Condition::Wet,
            Action::Wet(Wet {}),
            Action::Dry(Dry {}),
        ),
    ];
    for (when, bring, take) in cases {
        let mut fault = common::fault(&circuit, "W8:open");
        fault.when = when;
        let lesson = common::lesson(&circuit, &[fault]).unwrap();
        let mut session = Session::start(&lesson);
        assert!(complaint(&mut session).starts_with("Cranks"));
        done(&mut session, &[bring]);
        assert!(session.view().warm != session.view().wet);
        assert!(complaint(&mut session).starts_with("No crank"));
        done(&mut session, &[take]);
        assert!(complaint(&mut session).starts_with("Cranks"));
    }
}

/// A known-good part stands in for a bad one and heals the machine; with its own part back the fault is
/// back. A known-good part for a sound one changes nothing.
#[test]
fn a_known_good_part_is_a_test_and_no_repair() {
    let circuit = common::tug();
    let lesson = lesson(&circuit, &["K3:coil_open"]);
    let mut session = Session::start(&lesson);
    let fit = |part: &str| {
        Action::FitKnownGood(FitKnownGood {
            part: part.to_owned(),
        })
    };
    done(&mut session, &[fit("S2")]);
    assert!(complaint(&mut session).starts_with("No crank"));
    done(&mut session, &[fit("K3")]);
    assert_eq!(session.view().lent, ["S2", "K3"]);
    assert!(complaint(&mut session).starts_with("Cranks"));
    let own = Action::FitOwn(FitOwn {
        part: "K3".to_owned(),
    });
    done(&mut session, &[own]);
    assert!(complaint(&mut session).starts_with("No crank"));
    assert!(session.view().repairs.is_empty());
}

/// Two fuses of one rating change places: the dead branch wakes and the other dies.
#[test]
fn exchanged_parts_take_their_faults_along() {
    let circuit = common::demo("belt-loader-module");
    let pairs = circuit.alike();
    let fuses = ["F1".to_owned(), "F2".to_owned()];
    assert!(pairs.contains(&fuses), "{pairs:?}");
    let lesson = lesson(&circuit, &["F1:blown"]);
    let mut session = Session::start(&lesson);
    done(&mut session, &[control("key", "run")]);
    let volts = |s: &mut Session| {
        ["F1.2", "F2.2"].map(|p| shown(s, Function::DC_VOLTS, p, Some("BAT.-")) > 11.0)
    };
    assert_eq!(volts(&mut session), [false, true]);
    let swap = Action::Swap(Swap {
        a: "F1".to_owned(),
        b: "F2".to_owned(),
    });
    done(&mut session, &[swap]);
    assert_eq!(volts(&mut session), [true, false]);
    let unlike = Action::Swap(Swap {
        a: "F1".to_owned(),
        b: "F3".to_owned(),
    });
    assert!(
        session
            .act(unlike)
            .unwrap_err()
            .to_string()
            .contains("are not alike")
    );
}

/// A ring terminal undone from its metal: what hangs on it is dead, and its wire is read by itself (common practice: a
/// ground is measured off its stud where other ways lead round it).
#[test]
fn a_ground_is_undone_and_its_wire_read_by_itself() {
    let circuit = common::demo("sweeper-lamps");
    let lesson = lesson(&circuit, &["W15:open"]);
    let mut session = Session::start(&lesson);
    let apart = |what: &str| {
        Action::TakeApart(TakeApart {
            what: what.to_owned(),
        })
    };
    let ohms = |s: &mut Session| shown(s, Function::OHMS, "G2", Some("metal:frame"));
    done(&mut session, &[apart("BAT")]);
    assert!(ohms(&mut session) < 0.5);
    done(&mut session, &[apart("G2")]);
    assert!(ohms(&mut session).is_infinite());
    assert!(session.view().apart.contains(&"G2".to_owned()));
    let back = |what: &str| {
        Action::PutBack(PutBack {
            what: what.to_owned(),
        })
    };
    done(&mut session, &[back("G2"), back("BAT")]);
    assert!(session.bench().state().unplugged.is_empty());
    let none = session.act(apart("G9")).unwrap_err();
    assert!(none.to_string().contains("ground or the battery"), "{none}");
}

/// What has no socket is exchanged too: what is wrong with it goes along, and its place, cylinder or control stays (common
/// practice: a misfire that follows the coil or the plug is the coil's or the plug's).
#[test]
fn coils_plugs_and_injectors_are_exchanged() {
    let swap = |a: &str, b: &str| {
        Action::Swap(Swap {
            a: a.to_owned(),
            b: b.to_owned(),
        })
    };
    for (name, pair, fault, count) in [
        (
            "ground-power-unit-injectors",
            ["Y1", "Y2"],
            "Y1:winding_open",
            7,
        ),
        ("baggage-tug-ignition", ["P1", "P3"], "P1:fouled", 6),
        (
            "ground-power-unit-twin-coils",
            ["T1", "T2"],
            "T1:secondary_open",
            7,
        ),
    ] {
        let circuit = common::demo(name);
        let pairs = circuit.exchangeable();
        let said = pair.map(str::to_owned);
        assert!(
            pairs.contains(&said) && pairs.len() == count,
            "{name}: {pairs:?}"
        );
        let lesson = lesson(&circuit, &[fault]);
        let mut session = Session::start(&lesson);
        let wrong = |s: &Session| circuit.place_id(s.bench().faults()[0].place).to_owned();
        let before = session.bench().state().clone();
        done(&mut session, &[swap(pair[0], pair[1])]);
        assert_eq!(wrong(&session), pair[1], "{name}");
        assert_eq!(*session.bench().state(), before, "{name}");
        done(&mut session, &[swap(pair[1], pair[0])]);
        assert_eq!(wrong(&session), pair[0], "{name}");
    }
    let circuit = common::demo("ground-power-unit-injectors");
    let lesson = lesson(&circuit, &["Y1:winding_open"]);
    let mut session = Session::start(&lesson);
    let apart = |what: &str| {
        Action::TakeApart(TakeApart {
            what: what.to_owned(),
        })
    };
    done(&mut session, &[apart("BAT"), swap("Y1", "Y2")]);
    let ohms = |s: &mut Session, part: &str| {
        let [a, b] = ["1", "2"].map(|t| format!("{part}.{t}"));
        shown(s, Function::OHMS, &a, Some(&b))
    };
    assert!((10.0..20.0).contains(&ohms(&mut session, "Y1")));
    // What is left of the broken one is read round by the others.
    assert!(ohms(&mut session, "Y2") > 20.0);
}

/// The meter's own state: leads that are zeroed, and a fuse that stays gone until it is renewed.
#[test]
fn the_meter_has_a_state_of_its_own() {
    let circuit = common::tug();
    let lesson = lesson(&circuit, &["W8:open"]);
    let mut session = Session::start(&lesson);
    let ohms = |s: &mut Session| shown(s, Function::OHMS, "C14.1m", Some("C14.1f"));
    let raw = ohms(&mut session);
    done(&mut session, &[Action::ZeroLeads(ZeroLeads {})]);
    let zeroed = ohms(&mut session);
    assert!((raw - zeroed - 0.2).abs() < 0.051, "{raw} then {zeroed}");
    shown(&mut session, Function::DC_AMPS, "BAT.+", Some("BAT.-"));
    assert!(session.view().meter_fuse_blown);
    // The lamp circuit would draw a quarter of an ampere through the meter; it shows nothing.
    done(
        &mut session,
        &[
            control("key", "run"),
            Action::TakeApart(TakeApart {
                what: "F2".to_owned(),
            }),
        ],
    );
    assert_eq!(
        shown(&mut session, Function::DC_AMPS, "F2.1", Some("F2.2")),
        0.0
    );
    done(&mut session, &[Action::RenewMeterFuse(RenewMeterFuse {})]);
    let amps = shown(&mut session, Function::DC_AMPS, "F2.1", Some("F2.2"));
    assert!(amps > 0.1, "{amps} A through a new fuse");
}

/// What can be seen at a place: a chafe and a melted fuse, nothing at a break inside its insulation.
#[test]
fn a_close_look_tells_what_shows_outside() {
    let circuit = common::tug();
    let look = |faults: &[&str], place: &str| {
        let lesson = lesson(&circuit, faults);
        let mut session = Session::start(&lesson);
        let inspect = Action::Inspect(Inspect {
            place: place.to_owned(),
        });
        match done(&mut session, &[inspect]) {
            Answer::Seen { text } => text,
            other => panic!("{other:?}"),
        }
    };
    assert!(look(&["W15:short_to_ground"], "W15").contains("chafed"));
    assert!(look(&["W15:short_to_ground"], "F5").contains("melted"));
    assert_eq!(look(&["W8:open"], "W8"), look(&["W8:open"], "W9"));
}

/// Every action that changes the machine costs minutes, and time let pass is counted as it is.
#[test]
fn minutes_are_counted() {
    let circuit = common::tug();
    let lesson = lesson(&circuit, &["W8:open"]);
    let mut session = Session::start(&lesson);
    for (action, least) in [
        (Action::TryComplaint(TryComplaint {}), 0.5),
        (control("key", "run"), 0.05),
        (
            Action::TakeApart(TakeApart {
                what: "C12".to_owned(),
            }),
            2.0,
        ),
        (Action::Wait(Wait { minutes: 30.0 }), 30.0),
        (Action::WarmUp(WarmUp {}), 5.0),
    ] {
        let minutes = session.act(action.clone()).unwrap().minutes;
        assert!(minutes >= least, "{action:?} took {minutes} min");
    }
    for wrong in [0.0, -1.0, 601.0, f64::NAN] {
        let refused = session.act(Action::Wait(Wait { minutes: wrong }));
        assert!(
            refused.unwrap_err().to_string().contains("wait up to"),
            "{wrong}"
        );
    }
}

/// What is only set wrong is set right; what is worn out is not.
#[test]
fn setting_right_cures_what_is_set_wrong_and_nothing_else() {
    let circuit = common::demo("baggage-tug-ignition");
    let run = [("key", "start")];
    for (fault, how, cured) in [
        ("B1:never_open", RepairKind::Adjust, true),
        ("B1:pitted=20", RepairKind::Adjust, false),
        ("B1:pitted=20", RepairKind::Renew, true),
    ] {
        let mut bench = common::with(&circuit, &[fault], &run);
        let place = circuit.place("B1").unwrap();
        assert!(repairs(&circuit, place).contains(&how));
        let repair = Action::Repair(Repair::of("B1", how));
        perform(&mut bench, &repair).unwrap();
        assert_eq!(bench.faults().is_empty(), cured, "{fault}, {how:?}");
    }
    // A splice is not set right.
    let splice = circuit.place("SP1").unwrap();
    assert!(!repairs(&circuit, splice).contains(&RepairKind::Adjust));
}

/// Joints lie open to the eye; a wire hides what is wrong inside its insulation.
#[test]
fn a_close_look_shows_bad_joints_and_no_break_inside_a_wire() {
    let circuit = common::tug();
    for (fault, place, shows) in [
        ("C12.4:high_resistance=2", "C12.4", "the contact is green"),
        ("C12.4:open", "C12.4", "the terminal sits too far back"),
        ("G4:high_resistance=2", "G4", "rust under the lug"),
        ("W8:high_resistance=2", "W8", "nothing out of the ordinary"),
        ("W8:open", "C12.4", "nothing out of the ordinary"),
    ] {
        let bench = common::with(&circuit, &[fault], &[]);
        let place = circuit.place(place).unwrap();
        assert_eq!(seen(&bench, place), shows, "{fault}");
    }
}

/// Each act that is warned of is recognised by what a real action holds, and its harmless twin is not.
#[test]
fn warnings_are_meant_for_real_actions() {
    let circuit = common::demo("twin-fire-pump-ignition");
    let battery = circuit.parts.iter().find(|p| p.kind.is_source());
    let battery = battery.expect("a battery").id.clone();
    let amps = |function| common::reading(function, "BAT.+", Some("BAT.-"), None);
    let apart = |what: &str| {
        Action::TakeApart(TakeApart {
            what: what.to_owned(),
        })
    };
    let pairs = [
        (join("BAT.+", "BAT.-", false), join("BAT.+", "BAT.-", true)),
        (amps(Function::DC_AMPS), amps(Function::DC_VOLTS)),
        (apart(&battery), apart("F1")),
        (
            control("plug 1", "on the block"),
            control("plug 1", "fitted"),
        ),
    ];
    let warnings = warnings(&circuit);
    let warned = |action: &Action| {
        let given = serde_json::to_value(action).unwrap();
        let holds = |w: &&Warning| {
            let all = w.before.iter();
            let mut of = all.map(|of| {
                of.iter()
                    .all(|(field, value)| given.get(field) == Some(value))
            });
            of.any(|holds| holds)
        };
        warnings.iter().find(holds).map(|w| w.act)
    };
    let acts: Vec<_> = pairs
        .iter()
        .map(|(dangerous, _)| warned(dangerous))
        .collect();
    let all = [
        DangerousAct::JoinUnfused,
        DangerousAct::Amps,
        DangerousAct::BatteryOff,
        DangerousAct::OpenSpark,
    ];
    assert_eq!(acts, all.map(Some));
    for (_, harmless) in &pairs {
        assert_eq!(warned(harmless), None, "{harmless:?}");
    }
}

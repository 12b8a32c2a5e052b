//! The lessons that the panel looks at: the demo's machines, each with a fault that many have met.

use std::path::PathBuf;
use std::sync::Arc;

use cimento_diagnosis::lesson::{Job, Lesson, LessonDoc};
use cimento_model::circuit::{Circuit, Refused};
use cimento_model::faults::read_short_form;

/// A machine with its faults in short form.
pub struct Setting {
    pub name: &'static str,
    pub circuit: &'static str,
    pub faults: &'static [&'static str],
    pub job: Job,
    /// Its reference takes so long that it is left to the long checks.
    pub slow: bool,
}

const fn quick(
    name: &'static str,
    circuit: &'static str,
    faults: &'static [&'static str],
) -> Setting {
    Setting {
        name,
        circuit,
        faults,
        job: Job::Complaint,
        slow: false,
    }
}

/// One that comes in for a check.
const fn check(
    name: &'static str,
    circuit: &'static str,
    faults: &'static [&'static str],
    job: Job,
) -> Setting {
    Setting {
        job,
        ..quick(name, circuit, faults)
    }
}

const fn slow(
    name: &'static str,
    circuit: &'static str,
    faults: &'static [&'static str],
) -> Setting {
    Setting {
        slow: true,
        ..quick(name, circuit, faults)
    }
}

/// Starting, charging, shared grounds, sensors, modules, ignition, what comes and goes, two faults at once, checks.
pub static LESSONS: &[Setting] = &[
    quick("tug-no-crank", "baggage-tug-starting", &["W8:open"]),
    quick(
        "tug-slow-crank",
        "baggage-tug-starting",
        &["W20:high_resistance=0.05"],
    ),
    quick(
        "lamps-blow-fuse",
        "sweeper-lamps",
        &["W4:short_to_ground=0.1,metal=frame"],
    ),
    quick(
        "tug-two-faults",
        "baggage-tug-starting",
        &["W8:open", "W16:open"],
    ),
    quick(
        "tug-when-moved",
        "baggage-tug-starting",
        &["W8:open,when=moved"],
    ),
    quick("pump-no-crank", "fire-pump-starting", &["C2.2:open"]),
    quick(
        "loader-no-crank",
        "belt-loader-starting",
        &["K1:contacts_open"],
    ),
    quick("tug-charge-lamp", "baggage-tug-charging", &["W10:open"]),
    quick("pump-no-charge", "fire-pump-charging", &["W3:open"]),
    quick("lamps-share-ground", "sweeper-lamps", &["W15:open"]),
    quick(
        "cabin-weak-blower",
        "ground-power-unit-cabin",
        &["W11:high_resistance=2"],
    ),
    quick("speed-sensor", "sweeper-speed-sensor", &["W13:open"]),
    quick(
        "throttle-sensor",
        "ground-power-unit-throttle",
        &["W16:open"],
    ),
    quick("loader-module", "belt-loader-module", &["W22:open"]),
    quick("one-injector", "ground-power-unit-injectors", &["W18:open"]),
    check(
        "tug-cable-check",
        "baggage-tug-starting",
        &["W21:high_resistance=0.006"],
        Job::CheckUp,
    ),
    check("lamps-are-sound", "sweeper-lamps", &[], Job::CheckUpOrSound),
    slow("tug-dies", "baggage-tug-ignition", &["W4:open"]),
    slow("pump-no-spark", "fire-pump-ignition", &["A1:magnets_weak"]),
];

/// What the demo gives out beside those: the bots work it, the panel has not looked at it.
pub static DEMO: &[Setting] = &[
    quick("lamp-dark", "sweeper-lamps", &["W10:open,at=0.5"]),
    slow("sweeper-rough", "sweeper-ignition", &["W33:open,at=0.5"]),
    slow(
        "coils-crossed",
        "ground-power-unit-twin-coils",
        &["W16:crossed,other=W17"],
    ),
];

/// A lesson of the panel.
///
/// # Errors
/// [`Refused`] when its circuit or fault is none; a file that cannot be read counts as an empty one.
pub fn lesson(setting: &Setting) -> Result<Arc<Lesson>, Refused> {
    Lesson::new(document(setting)?)
}

/// The document of a lesson of the panel.
///
/// # Errors
/// As [`lesson`].
pub fn document(setting: &Setting) -> Result<LessonDoc, Refused> {
    let circuit = circuit(setting.circuit)?;
    let mut faults = Vec::new();
    for text in setting.faults {
        faults.push(read_short_form(text).map_err(|p| Refused(vec![p]))?);
    }
    Ok(LessonDoc {
        complaint: "As the work order says.".to_owned(),
        predictions: true,
        job: setting.job,
        ..LessonDoc::of(setting.name, circuit.doc.clone(), faults)
    })
}

fn circuit(name: &str) -> Result<Arc<Circuit>, Refused> {
    let folder = PathBuf::from(concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/circuits"));
    let text = std::fs::read_to_string(folder.join(format!("{name}.json"))).unwrap_or_default();
    cimento_parts::read_circuit(&text)
}

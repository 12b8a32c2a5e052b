//! Slips of technique, recognised from the steps alone.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::case::{Case, Taken};
use super::claims::ClaimKind;
use super::papers::of_papers;
use super::plugs::of_plugs;
use super::schools::against;
use crate::attempt::{Touch, is_too_thick, pierced};
use crate::lesson::Method;
use crate::suspects::TELLS_NOTHING_BITS;
use cimento_bench::instruments::{Function, LEAD_OHMS};
use cimento_model::units::{Quantity, Unit};

/// Voltage between the probes from which a resistance reading is false, in volts.
const LIVE_V: f64 = 0.02;

/// What kind of slip it was.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum SlipKind {
    /// An ammeter across a source.
    AmmeterAcrossSource,
    /// Ohms or continuity with voltage between the probes.
    OhmsOnLive,
    /// A place cleared by a voltage taken with no load on it.
    ClearedUnloaded,
    /// A place called proven by its resistance while another way round was attached.
    ProvenAttached,
    /// A range too small for the value, or a function for what is not there.
    WrongRange,
    /// The leads' own resistance changes what the reading says.
    LeadsNotZeroed,
    /// A lead that touches nothing of the circuit.
    LooseLead,
    /// Insulation that was pierced and not sealed again.
    PiercedUnsealed,
    /// A thick probe pushed into a small cavity.
    ThickProbe,
    /// A lamp that was never seen to light, whose darkness ruled something out.
    UnprovenLamp,
    /// The first measurement was not of the kind that the lesson asks for first.
    AgainstMethod,
    /// A sheet of another variant that was taken for the machine's.
    ForeignSheetTrusted,
    /// Plugs that look alike, put back crossed.
    PlugsCrossed,
    /// The machine's own sheet, called another variant's.
    OwnSheetDoubted,
}

impl SlipKind {
    /// What it counts, out of 10.
    pub fn weight(self) -> f64 {
        match self {
            Self::AmmeterAcrossSource => 5.0,
            Self::OhmsOnLive | Self::PlugsCrossed => 3.0,
            Self::ClearedUnloaded | Self::ProvenAttached | Self::ForeignSheetTrusted => 2.0,
            Self::WrongRange
            | Self::LeadsNotZeroed
            | Self::LooseLead
            | Self::PiercedUnsealed
            | Self::ThickProbe
            | Self::UnprovenLamp
            | Self::AgainstMethod
            | Self::OwnSheetDoubted => 1.0,
        }
    }
}

impl SlipKind {
    /// What it is, in a few words.
    pub fn text(self) -> &'static str {
        match self {
            Self::AmmeterAcrossSource => "an ammeter across a source",
            Self::OhmsOnLive => "ohms on a live circuit",
            Self::ClearedUnloaded => "a place ruled out by a voltage without load",
            Self::ProvenAttached => "ohms with another way round attached",
            Self::WrongRange => "the wrong range or function",
            Self::LeadsNotZeroed => "the leads’ own resistance left in",
            Self::LooseLead => "a lead that touched nothing",
            Self::PiercedUnsealed => "insulation pierced and left open",
            Self::ThickProbe => "a thick probe in a small cavity",
            Self::UnprovenLamp => "a test lamp that was never seen to light",
            Self::AgainstMethod => "another method than was asked for",
            Self::ForeignSheetTrusted => "another variant’s sheet believed",
            Self::PlugsCrossed => "plugs put back crossed",
            Self::OwnSheetDoubted => "the machine’s own sheet doubted",
        }
    }
}

/// A slip with its step.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Slip {
    pub step: usize,
    pub kind: SlipKind,
    pub text: String,
}

/// Every slip of an attempt, in the order of its steps.
pub(super) fn slips(case: &Case<'_>) -> Vec<Slip> {
    slips_by(case, &case.lesson.method)
}

/// Every slip by the rules of other schools than the lesson's own.
pub(super) fn slips_by(case: &Case<'_>, method: &Method) -> Vec<Slip> {
    let mut out: Vec<Slip> = case.readings.iter().filter_map(of_reading).collect();
    out.extend(case.readings.iter().filter_map(|t| of_touch(case, t)));
    out.extend(method.schools().filter_map(|s| against(case, s)));
    out.extend(of_lamps(case));
    out.extend(of_papers(case));
    out.extend(of_plugs(case));
    for claim in &case.claims {
        let done = out.iter().any(|s| s.step == claim.step);
        if claim.kind != ClaimKind::Cleared || claim.justified || done {
            continue;
        }
        let id = case.lesson.circuit.place_id(claim.place);
        if claim.attached {
            out.push(Slip {
                step: claim.step,
                kind: SlipKind::ProvenAttached,
                text: format!(
                    "{id} was called good by its resistance while its ends were still attached: the meter also sees every other way round."
                ),
            });
        } else if claim.idle {
            out.push(Slip {
                step: claim.step,
                kind: SlipKind::ClearedUnloaded,
                text: format!(
                    "{id} was ruled out by a voltage while nothing was drawing current through it."
                ),
            });
        }
    }
    out.sort_by_key(|s| s.step);
    out
}

/// Darkness says something only of a lamp that has lit: the first dark one that told something, before any was bright.
fn of_lamps(case: &Case<'_>) -> Option<Slip> {
    let of_a_lamp = |t: &&Taken<'_>| t.reading.function.unit() == Unit::Light && t.bits.is_some();
    let mut lamps = case.readings.iter().filter(of_a_lamp);
    let lit = |t: &Taken<'_>| t.reading.shown.value.number() > 0.0;
    let first = lamps.find(|t| lit(t) || t.bits.is_some_and(|bits| bits >= TELLS_NOTHING_BITS))?;
    (!lit(first)).then(|| Slip {
        step: first.step,
        kind: SlipKind::UnprovenLamp,
        text:
            "The lamp stayed dark before it was ever seen to light: prove it on the battery first."
                .to_owned(),
    })
}

/// What a lead did to a wire or a contact on its way in.
fn of_touch(case: &Case<'_>, taken: &Taken<'_>) -> Option<Slip> {
    let circuit = &case.lesson.circuit;
    let leads = [&taken.reading.red, &taken.reading.black];
    let mut points = leads
        .into_iter()
        .flatten()
        .filter_map(|id| circuit.test_point(id));
    let (kind, text) = match taken.touch {
        Touch::BackProbe => return None,
        Touch::FrontProbe => {
            let point = points.find(|p| is_too_thick(circuit, p))?;
            let text = format!(
                "A thick probe was pushed into {}: it spreads a contact of that size.",
                point.id
            );
            (SlipKind::ThickProbe, text)
        }
        Touch::Pierce => {
            let open = case.left.pierced();
            let wire = points
                .filter_map(|p| pierced(circuit, p))
                .find(|wire| open.iter().any(|w| w == wire))?;
            let text = format!("{wire} was pierced and never sealed: water will find its way in.");
            (SlipKind::PiercedUnsealed, text)
        }
    };
    Some(Slip {
        step: taken.step,
        kind,
        text,
    })
}

fn of_reading(taken: &Taken<'_>) -> Option<Slip> {
    let reading = taken.reading;
    let resistance = reading.function.feeds();
    let slip = |kind: SlipKind, text: String| {
        Some(Slip {
            step: taken.step,
            kind,
            text,
        })
    };
    if reading.blew {
        let text = "The meter's current input was put across a source: its fuse went.";
        return slip(SlipKind::AmmeterAcrossSource, text.to_owned());
    }
    if reading.function.leads() == 2 && (reading.red.is_none() || reading.black.is_none()) {
        let text = "A lead touched nothing, so the display says nothing.";
        return slip(SlipKind::LooseLead, text.to_owned());
    }
    if resistance && let Some(volts) = taken.live_v.filter(|_| taken.is_live()) {
        let text = format!(
            "Resistance was measured with {:.2} V between the probes: the figure is false.",
            volts.abs()
        );
        return slip(SlipKind::OhmsOnLive, text);
    }
    if let Some(range) = taken.range {
        let over = |q: Quantity| q == Quantity::OverLimit;
        let coarser = reading.function.ranges().iter().any(|r| r.0 > range.0);
        if coarser && over(taken.healthy.shown.value) && over(reading.shown.value) {
            let text = "The range was too small for what a healthy circuit reads here.";
            return slip(SlipKind::WrongRange, text.to_owned());
        }
        if reading.function.step(range) > taken.tolerance {
            let text = "The range was too coarse to tell good from bad here.";
            return slip(SlipKind::WrongRange, text.to_owned());
        }
    }
    let beats = reading.function.counts_beats();
    let nothing = |q: Quantity| q == Quantity::Number(0.0);
    if beats && nothing(taken.healthy.shown.value) && nothing(reading.shown.value) {
        let text = "Nothing alternates or pulses here: there is no frequency to read.";
        return slip(SlipKind::WrongRange, text.to_owned());
    }
    if reading.function == Function::OHMS && !taken.zeroed {
        let within = |v: f64| (v - (healthy(taken) - LEAD_OHMS)).abs() <= taken.tolerance;
        let shown = reading.shown.value.number();
        if shown.is_finite() && within(shown) != within(shown - LEAD_OHMS) {
            let text =
                "The resistance of the leads was not taken off, and here it changes the verdict.";
            return slip(SlipKind::LeadsNotZeroed, text.to_owned());
        }
    }
    None
}

impl Taken<'_> {
    /// There is voltage between the probes, by which a resistance is read falsely.
    pub(super) fn is_live(&self) -> bool {
        self.live_v.is_some_and(|v| v.abs() > LIVE_V)
    }
}

/// What a healthy circuit shows on the same meter, in its unit.
fn healthy(taken: &Taken<'_>) -> f64 {
    taken.healthy.shown.value.number()
}

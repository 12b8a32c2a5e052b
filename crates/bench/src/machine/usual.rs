//! What is noticed only beside what a sound machine does, or after it has stood.

use super::{Bench, BenchError};
use cimento_model::part::{Notice, NoticeKind};
use cimento_model::state::{Engine, OperatingState};

/// An engine that is cranked slower than usual by this share is heard to be; common practice.
const HEARD: f64 = 0.15;
/// What a battery that is flat within so many hours is said to have stood for. Whoever leaves a machine leaves it
/// overnight, from Friday to Monday, or for a week.
const STOOD: [(f64, &str); 3] = [(16.0, "overnight"), (64.0, "a weekend"), (168.0, "a week")];

impl Bench {
    /// A notice of a part by its position, as it is heard by who knows the machine.
    pub(super) fn beside_a_sound_one(&self, part: usize, notice: Notice) -> Notice {
        if notice.kind != NoticeKind::Cranking || notice.sign != "cranks" {
            return notice;
        }
        let rpm = self.starter_rpm(part);
        let usual = self.usual_rpm(part).unwrap_or(0.0);
        if rpm >= (1.0 - HEARD) * usual {
            return notice;
        }
        Notice {
            text: format!("cranks more slowly than usual, {rpm:.0} rpm"),
            sign: "slower".to_owned(),
            ..notice
        }
    }

    fn starter_rpm(&self, part: usize) -> f64 {
        self.parts[part].speed * 30.0 / std::f64::consts::PI
    }

    /// Speed at which a sound machine is cranked in such weather, in revolutions per minute; none where it has no
    /// operating point.
    fn usual_rpm(&self, part: usize) -> Option<f64> {
        let celsius = self.state.temperature_c;
        if let Some(known) = self.shared.usual_rpm(part, celsius) {
            return Some(known);
        }
        let rpm = self.crank_a_sound_one(part, celsius).ok()?;
        self.shared.keep_usual_rpm(part, celsius, rpm);
        Some(rpm)
    }

    fn crank_a_sound_one(&self, part: usize, celsius: f64) -> Result<f64, BenchError> {
        let mut sound = self.beside(&[])?;
        // How it fires does not matter to how it is cranked.
        sound.take_to_fire(true);
        let mut fastest: f64 = 0.0;
        for trial in OperatingState::trial(&self.circuit) {
            if trial.state.engine == Engine::Running {
                continue;
            }
            sound.set(OperatingState {
                temperature_c: celsius,
                ..trial.state
            })?;
            fastest = fastest.max(sound.starter_rpm(part));
        }
        Ok(fastest)
    }

    /// What becomes of a battery that stands as the machine does now.
    pub(super) fn notice_standing(&self) -> Option<Notice> {
        let sources = self.circuit.parts.iter().enumerate();
        let sources = sources.filter(|(_, p)| p.kind.is_source());
        let hours = sources.filter_map(|(n, part)| {
            let per_s = self.look(n, |l| part.kind.charge_per_s(l))?;
            (per_s < 0.0).then(|| (-1.0 / (per_s * 3600.0), part))
        });
        let (hours, part) = hours.min_by(|a, b| a.0.total_cmp(&b.0))?;
        let (_, stood) = STOOD.iter().find(|(most, _)| hours <= *most)?;
        Some(Notice {
            kind: NoticeKind::Standing,
            part: part.id.clone(),
            text: format!("{} is flat after standing {stood}", part.called()),
            sign: format!("flat after {stood}"),
            hidden: false,
        })
    }
}

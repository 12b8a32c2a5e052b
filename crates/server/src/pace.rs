//! Answers to a student's actions leave when a fixed time has passed, so that how long a machine takes to work out does
//! not tell how it is.

use std::future::Future;
use std::time::Duration;

use cimento_diagnosis::attempt::Action;
use cimento_diagnosis::lesson::Lesson;
use tokio::time::{Instant, sleep_until};

/// How long an answer is held back: more than nearly every machine of its kind takes, whatever its fault, and by
/// `cimento-load telling` not to be told apart. What takes longer leaves after twice as long, and twice that.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub(crate) enum Pace {
    /// Steady states.
    #[default]
    Steady,
    /// An engine with an ignition, which is followed in time.
    Sparking,
    /// A screen of the oscilloscope.
    Screen,
}

impl Pace {
    /// By what a lesson's circuit is and what is done, never by its fault.
    pub(crate) fn of(lesson: &Lesson, action: Option<&Action>) -> Self {
        match action {
            Some(Action::Capture(_)) => Self::Screen,
            _ if lesson.circuit.sparks() => Self::Sparking,
            _ => Self::Steady,
        }
    }

    fn time(self) -> Duration {
        Duration::from_millis(match self {
            Self::Steady => 30,
            Self::Sparking => 80,
            Self::Screen => 250,
        })
    }
}

/// Does some work, which says its pace when it is done, and waits for its time.
pub(crate) async fn paced<T, E>(work: impl Future<Output = Result<(Pace, T), E>>) -> Result<T, E> {
    let start = Instant::now();
    let done = work.await;
    let pace = done.as_ref().map_or_else(|_| Pace::default(), |(p, _)| *p);
    let mut time = pace.time();
    while time < start.elapsed() {
        time *= 2;
    }
    sleep_until(start + time).await;
    done.map(|(_, answer)| answer)
}

#[cfg(test)]
mod tests {
    use tokio::time::sleep;

    use super::*;

    #[tokio::test(start_paused = true)]
    async fn answers_leave_when_their_time_has_passed() {
        for (pace, takes_ms, leaves_ms) in [
            (Pace::Steady, 1, 30),
            (Pace::Steady, 29, 30),
            (Pace::Steady, 31, 60),
            (Pace::Steady, 61, 120),
            (Pace::Sparking, 3, 80),
            (Pace::Screen, 90, 250),
        ] {
            let start = Instant::now();
            let answer = paced(async {
                sleep(Duration::from_millis(takes_ms)).await;
                Ok::<_, ()>((pace, "done"))
            });
            assert_eq!(answer.await, Ok("done"));
            assert_eq!(start.elapsed(), Duration::from_millis(leaves_ms));
        }
        let start = Instant::now();
        let refused = paced(async { Err::<(Pace, ()), _>("refused") });
        assert_eq!(refused.await, Err("refused"));
        assert_eq!(start.elapsed(), Duration::from_millis(30));
    }
}

//! References of lessons: they take seconds, some of them minutes, to work out and serve every attempt at
//! their lesson. Each is kept on a thread of its own, so that nobody waits for another lesson's.

use std::collections::{HashMap, VecDeque};
use std::sync::mpsc::{Receiver, Sender, channel, sync_channel};
use std::sync::{Arc, Mutex, PoisonError};

use cimento_core::attempt::Lesson;
use cimento_core::bench::BenchError;
use cimento_core::suspects::Reference;

use crate::problem::Problem;

/// References kept ready; one takes some tens to some hundreds of megabytes.
const KEPT: usize = 4;

/// What a thread is asked: it gets the reference, or why there is none.
type Job = Box<dyn FnOnce(Result<&Reference<'static>, &BenchError>) + Send>;

/// A handle on the threads; cheap to clone.
#[derive(Clone, Default)]
pub(crate) struct Reasoner {
    shelf: Arc<Mutex<Shelf>>,
}

#[derive(Default)]
struct Shelf {
    /// Lessons that a reference was ever made of. They never change and are kept until the program
    /// ends, since references borrow from them.
    lessons: HashMap<i32, &'static Lesson>,
    /// The threads of the lessons last used, newest first. One whose sender goes ends when it has
    /// answered what it was asked.
    threads: VecDeque<(i32, Sender<Job>)>,
}

impl Shelf {
    /// Sends a job to the thread of a lesson, which is started if it has none.
    fn send(&mut self, id: i32, lesson: &Arc<Lesson>, mut job: Job) {
        if let Some(at) = self.threads.iter().position(|(have, _)| *have == id)
            && let Some((_, thread)) = self.threads.remove(at)
        {
            match thread.send(job) {
                Ok(()) => {
                    self.threads.push_front((id, thread));
                    return;
                }
                // That thread has come to grief: another takes its place.
                Err(unsent) => job = unsent.0,
            }
        }
        let lesson: &'static Lesson = self
            .lessons
            .entry(id)
            .or_insert_with(|| &**Box::leak(Box::new(Arc::clone(lesson))));
        let (thread, jobs) = channel();
        // A channel whose receiver is at hand takes what it is sent.
        let _ = thread.send(job);
        std::thread::spawn(move || answer(lesson, &jobs));
        self.threads.truncate(KEPT - 1);
        self.threads.push_front((id, thread));
    }
}

fn answer(lesson: &'static Lesson, jobs: &Receiver<Job>) {
    let reference = Reference::new(lesson);
    for job in jobs {
        job(reference.as_ref());
    }
}

impl Reasoner {
    /// Asks the reference of a lesson and waits for the answer.
    pub(crate) fn ask<T: Send + 'static>(
        &self,
        id: i32,
        lesson: &Arc<Lesson>,
        question: impl FnOnce(&Reference<'static>) -> Result<T, BenchError> + Send + 'static,
    ) -> Result<T, Problem> {
        let (answer, wait) = sync_channel(1);
        self.send(id, lesson, move |reference| {
            let result = reference.map_err(BenchError::clone).and_then(question);
            // Nobody waits any more when the asker has gone.
            let _ = answer.send(result);
        });
        let result = wait.recv().map_err(|_| Problem::internal())?;
        Ok(result?)
    }

    /// Has a reference worked out without waiting for it.
    pub(crate) fn prepare(&self, id: i32, lesson: &Arc<Lesson>) {
        self.send(id, lesson, move |reference| {
            if let Err(e) = reference {
                tracing::warn!("lesson {id}: {e}");
            }
        });
    }

    fn send(
        &self,
        id: i32,
        lesson: &Arc<Lesson>,
        job: impl FnOnce(Result<&Reference<'static>, &BenchError>) + Send + 'static,
    ) {
        let mut shelf = self.shelf.lock().unwrap_or_else(PoisonError::into_inner);
        shelf.send(id, lesson, Box::new(job));
    }
}

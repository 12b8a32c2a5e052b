//! References of lessons, kept on a thread of their own: they take seconds to work out and serve
//! every attempt at their lesson.

use std::collections::{HashMap, VecDeque};
use std::rc::Rc;
use std::sync::Arc;
use std::sync::mpsc::{Sender, channel, sync_channel};

use cimento_core::attempt::Lesson;
use cimento_core::bench::BenchError;
use cimento_core::suspects::Reference;

use crate::problem::Problem;

/// References kept ready; one takes some tens to some hundreds of megabytes.
const KEPT: usize = 4;

type Job = Box<dyn FnOnce(&mut Shelf) + Send>;

/// A handle on the thread; cheap to clone.
#[derive(Clone)]
pub(crate) struct Reasoner {
    jobs: Sender<Job>,
}

/// What the thread keeps.
#[derive(Default)]
struct Shelf {
    /// Lessons that a reference was ever made of. They never change and are kept until the program
    /// ends, since references borrow from them.
    lessons: HashMap<i32, &'static Lesson>,
    /// The references last used, newest first.
    references: VecDeque<(i32, Rc<Reference<'static>>)>,
}

impl Shelf {
    fn reference(
        &mut self,
        id: i32,
        lesson: Arc<Lesson>,
    ) -> Result<Rc<Reference<'static>>, BenchError> {
        if let Some(at) = self.references.iter().position(|(have, _)| *have == id)
            && let Some(found) = self.references.remove(at)
        {
            self.references.push_front(found);
        } else {
            let lesson: &'static Lesson = self
                .lessons
                .entry(id)
                .or_insert_with(|| &**Box::leak(Box::new(lesson)));
            let new = Rc::new(Reference::new(lesson)?);
            self.references.truncate(KEPT - 1);
            self.references.push_front((id, new));
        }
        Ok(Rc::clone(&self.references[0].1))
    }
}

impl Reasoner {
    /// Starts the thread; it ends when the last handle is gone.
    pub(crate) fn start() -> Self {
        let (jobs, todo) = channel::<Job>();
        std::thread::spawn(move || {
            let mut shelf = Shelf::default();
            for job in todo {
                let run = std::panic::AssertUnwindSafe(|| job(&mut shelf));
                if std::panic::catch_unwind(run).is_err() {
                    // What it was working on may be half done.
                    shelf.references.clear();
                }
            }
        });
        Self { jobs }
    }

    /// Asks the reference of a lesson and waits for the answer.
    pub(crate) fn ask<T: Send + 'static>(
        &self,
        id: i32,
        lesson: &Arc<Lesson>,
        question: impl FnOnce(&Reference<'static>) -> Result<T, BenchError> + Send + 'static,
    ) -> Result<T, Problem> {
        let (answer, wait) = sync_channel(1);
        let lesson = Arc::clone(lesson);
        let job = move |shelf: &mut Shelf| {
            let result = shelf.reference(id, lesson).and_then(|r| question(&r));
            // Nobody waits any more when the asker has gone.
            let _ = answer.send(result);
        };
        let sent = self.jobs.send(Box::new(job));
        sent.map_err(|_| Problem::internal())?;
        let result = wait.recv().map_err(|_| Problem::internal())?;
        Ok(result?)
    }

    /// Has a reference worked out without waiting for it.
    pub(crate) fn prepare(&self, id: i32, lesson: Arc<Lesson>) {
        let job = move |shelf: &mut Shelf| {
            if let Err(e) = shelf.reference(id, lesson) {
                tracing::warn!("lesson {id}: {e}");
            }
        };
        // A thread that is gone is reported when it is asked.
        let _ = self.jobs.send(Box::new(job));
    }
}

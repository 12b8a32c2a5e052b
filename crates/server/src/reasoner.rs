//! References of lessons, and the marks that are held against them: worked out by a pool, kept where they
//! are asked for again.

use std::num::NonZeroUsize;
use std::sync::atomic::{AtomicU64, Ordering};
use std::sync::{Arc, Mutex, OnceLock, PoisonError};
use std::thread::available_parallelism;

use cimento_bench::BenchError;
use cimento_diagnosis::ENGINE;
use cimento_diagnosis::attempt::Step;
use cimento_diagnosis::lesson::{Lesson, LessonDoc};
use cimento_diagnosis::marking::{Case, Debrief, MarkSheet, at_once, debrief, sheet};
use cimento_diagnosis::suspects::{Progress, Reference};
use cimento_store::{NewSheet, Store};
use lru::LruCache;

use crate::clock::now;
use crate::pool::{Pool, Ticket, Urgency};
use crate::problem::Problem;
use crate::prospect::Prospect;

/// References kept ready; one takes some tens to some hundreds of megabytes.
const KEPT: NonZeroUsize = NonZeroUsize::new(4).unwrap();

/// Lessons of which it is remembered what they say; and lessons that are not saved of which it is known what they are in
/// for: they are looked at again and again while one chooses among them.
const REMEMBERED: NonZeroUsize = NonZeroUsize::new(64).unwrap();

/// What the pool works at.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub(crate) enum Task {
    /// The reference of a lesson.
    Reference(i32),
    /// The marks of an attempt that was handed in.
    Marks(i32),
    /// The reference of a lesson that is not saved.
    Preview(u64),
}

/// A reference once it has been worked out.
type Kept = Arc<OnceLock<Arc<Reference>>>;

/// References at hand, by the documents of their lessons: a lesson that is there twice, in one school or in two that one
/// program serves, is thought through once.
#[derive(Clone)]
pub struct References(Arc<Mutex<LruCache<String, Kept>>>);

impl Default for References {
    fn default() -> Self {
        Self(Arc::new(Mutex::new(LruCache::new(KEPT))))
    }
}

impl References {
    fn of(&self, document: &str) -> Kept {
        let mut known = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        Arc::clone(known.get_or_insert_ref(document, Kept::default))
    }
}

/// Who works out references and marks; cheap to clone.
#[derive(Clone)]
pub(crate) struct Reasoner {
    store: Store,
    pub(crate) pool: Pool<Task>,
    references: References,
    /// What the lessons last asked for say, by their numbers.
    documents: Arc<Mutex<LruCache<i32, String>>>,
    previews: Arc<AtomicU64>,
    /// What lessons that are not saved are in for, by their documents.
    making: Arc<Mutex<LruCache<String, Arc<Prospect>>>>,
}

/// Gives a computation up when nobody holds this any more.
struct GiveUp(Arc<Progress>);

impl Drop for GiveUp {
    fn drop(&mut self) {
        self.0.give_up();
    }
}

impl Reasoner {
    pub(crate) fn new(store: Store) -> Self {
        // One core is left to those who work at their benches.
        let cores = available_parallelism().map_or(1, usize::from);
        Self {
            store,
            pool: Pool::new(cores.saturating_sub(1).max(1)),
            references: References::default(),
            documents: Arc::new(Mutex::new(LruCache::new(REMEMBERED))),
            previews: Arc::default(),
            making: Arc::new(Mutex::new(LruCache::new(REMEMBERED))),
        }
    }

    /// The same, which has at hand what others have who hold these.
    pub(crate) fn sharing(self, references: References) -> Self {
        Self { references, ..self }
    }

    /// The place of a lesson's reference.
    fn kept(&self, id: i32) -> Kept {
        let document = || {
            let row = self.store.lesson(id).map_err(|e| e.to_string())?;
            serde_json::to_string(&row.document).map_err(|e| e.to_string())
        };
        let mut documents = self
            .documents
            .lock()
            .unwrap_or_else(PoisonError::into_inner);
        match documents.try_get_or_insert(id, document) {
            Ok(document) => self.references.of(document),
            Err(e) => {
                tracing::warn!("lesson {id}: {e}");
                Kept::default()
            }
        }
    }

    /// A reference that is at hand.
    pub(crate) fn at_hand(&self, id: i32) -> Option<Arc<Reference>> {
        self.kept(id).get().cloned()
    }

    /// The reference of a lesson, here and now: on a worker's thread.
    fn work_out(
        &self,
        id: i32,
        lesson: &Arc<Lesson>,
        progress: &Arc<Progress>,
    ) -> Result<Arc<Reference>, BenchError> {
        let kept = self.kept(id);
        if let Some(known) = kept.get() {
            // It may be at hand by another lesson.
            if let Ok(None) = self.store.prospect(id, ENGINE) {
                self.keep_prospect(id, known);
            }
            return Ok(Arc::clone(known));
        }
        let reference = Arc::new(Reference::watched(lesson, progress)?);
        let reference = kept.get_or_init(|| reference);
        self.keep_prospect(id, reference);
        Ok(Arc::clone(reference))
    }

    /// What the lesson is in for is read from then on.
    fn keep_prospect(&self, id: i32, reference: &Reference) {
        let prospect = match Prospect::of(reference) {
            Ok(prospect) => prospect,
            Err(e) => return tracing::warn!("lesson {id}: {e}"),
        };
        let text = serde_json::to_string(&prospect);
        let kept = text.map(|text| self.store.keep_prospect(id, ENGINE, &text));
        if let Ok(Err(e)) = kept {
            tracing::warn!("lesson {id}: {e}");
        }
    }

    /// Asks for the reference of a lesson.
    ///
    /// # Errors
    /// As [`Pool::ask`].
    pub(crate) fn reference(
        &self,
        id: i32,
        lesson: &Arc<Lesson>,
        urgency: Urgency,
    ) -> Result<Ticket, Problem> {
        // Sparks are followed in time: what is quick need not wait for them.
        let urgency = match urgency {
            Urgency::Idle if lesson.circuit.sparks() => Urgency::IdleLong,
            urgency => urgency,
        };
        let (own, lesson) = (self.clone(), Arc::clone(lesson));
        self.pool
            .ask(Task::Reference(id), urgency, move |progress| {
                own.work_out(id, &lesson, progress)?;
                Ok(())
            })
    }

    /// Has something about a lesson that is not saved worked out; it is given up when the asker goes away.
    ///
    /// # Errors
    /// As [`Pool::ask`], and whatever `run` says.
    pub(crate) async fn aside<T: Send + 'static>(
        &self,
        run: impl FnOnce(&Arc<Progress>) -> Result<T, Problem> + Send + 'static,
    ) -> Result<T, Problem> {
        let nth = self.previews.fetch_add(1, Ordering::Relaxed);
        let found = Arc::new(Mutex::new(None));
        let ticket = self.pool.ask(Task::Preview(nth), Urgency::GivenOut, {
            let found = Arc::clone(&found);
            move |progress| {
                let made = run(progress)?;
                *found.lock().unwrap_or_else(PoisonError::into_inner) = Some(made);
                Ok(())
            }
        })?;
        let _unless_awaited = GiveUp(Arc::clone(&ticket.progress));
        ticket.wait().await?;
        let found = found.lock().unwrap_or_else(PoisonError::into_inner).take();
        found.ok_or_else(Problem::internal)
    }

    /// What a lesson that is not saved is in for.
    ///
    /// # Errors
    /// As [`Reasoner::aside`].
    pub(crate) async fn prospect(
        &self,
        doc: &LessonDoc,
        lesson: Arc<Lesson>,
    ) -> Result<Arc<Prospect>, Problem> {
        // Whatever it is called, it is in for the same.
        let nameless = LessonDoc {
            title: String::new(),
            ..doc.clone()
        };
        let key = serde_json::to_string(&nameless).map_err(|e| {
            tracing::error!("{e}");
            Problem::internal()
        })?;
        let making = || self.making.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(known) = making().get(&key) {
            return Ok(Arc::clone(known));
        }
        let run = move |progress: &Arc<Progress>| {
            Ok(Prospect::of(&Reference::watched(&lesson, progress)?)?)
        };
        let found = Arc::new(self.aside(run).await?);
        making().put(key, Arc::clone(&found));
        Ok(found)
    }

    /// Asks for the marks of an attempt, which are kept when they are there.
    ///
    /// # Errors
    /// As [`Pool::ask`].
    pub(crate) fn marks(
        &self,
        attempt: i32,
        (lesson_id, lesson): (i32, &Arc<Lesson>),
        steps: Vec<Step>,
    ) -> Result<Ticket, Problem> {
        let (own, lesson) = (self.clone(), Arc::clone(lesson));
        let needs = Task::Reference(lesson_id);
        self.pool.ask_with(
            Task::Marks(attempt),
            Urgency::Mark,
            Some(&needs),
            move |progress| {
                let reference = own.work_out(lesson_id, &lesson, progress)?;
                own.keep(attempt, &marked(&reference, &steps)?)
            },
        )
    }

    /// Marks an attempt at once where no fault is looked for, and keeps what comes of it; nothing where one is.
    ///
    /// # Errors
    /// When it cannot be kept.
    pub(crate) fn marks_at_once(
        &self,
        attempt: i32,
        lesson: &Lesson,
        steps: &[Step],
    ) -> Result<Option<(MarkSheet, Debrief)>, Problem> {
        let made = at_once(lesson, steps)?;
        if let Some(made) = &made {
            self.keep(attempt, made)?;
        }
        Ok(made)
    }

    fn keep(&self, attempt: i32, (sheet, debrief): &(MarkSheet, Debrief)) -> Result<(), Problem> {
        let text = |e: serde_json::Error| {
            tracing::error!("attempt {attempt}: {e}");
            Problem::internal()
        };
        let made = NewSheet {
            engine: ENGINE,
            made_at: now(),
            sheet: &serde_json::to_string(sheet).map_err(text)?,
            debrief: &serde_json::to_string(debrief).map_err(text)?,
            computed: sheet.computed,
        };
        Ok(self.store.keep_sheet(attempt, &made)?)
    }
}

/// Sheet and debrief of an attempt.
pub(crate) fn marked(
    reference: &Reference,
    steps: &[Step],
) -> Result<(MarkSheet, Debrief), BenchError> {
    let case = Case::new(reference, steps)?;
    Ok((sheet(&case)?, debrief(&case)))
}

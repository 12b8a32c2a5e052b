//! What every route works with.

use std::collections::{HashMap, HashSet, VecDeque};
use std::net::IpAddr;
use std::path::PathBuf;
use std::sync::{Arc, Mutex, PoisonError};
use std::time::Instant;

use cimento_bench::{BenchError, Complaint};
use cimento_diagnosis::lesson::Lesson;
use cimento_diagnosis::suspects::Reference;
use cimento_store::Store;
use ipnet::IpNet;

use crate::benches::Benches;
use crate::clock::Passing;
use crate::diagrams::Diagrams;
use crate::fair::{self, Fair, Rate};
use crate::gate::Gate;
use crate::live::Live;
use crate::pictures::Pictures;
use crate::pool::Urgency;
use crate::problem::Problem;
use crate::reasoner::{Reasoner, References};
use crate::throttle::Throttle;

/// Passwords looked at, and other work done, at once; and how many may wait for each.
const PASSWORDS: usize = 2;
pub(crate) const WORKS: usize = 12;
const WAITING: usize = 2000;
/// Lessons kept checked and ready.
const LESSONS_KEPT: usize = 64;
/// Trials remembered.
const TRIALS_KEPT: usize = 64;

/// Shared state; cheap to clone.
#[derive(Clone)]
pub struct AppState {
    pub store: Store,
    /// Folder of the built page.
    pub web: PathBuf,
    /// Who is believed when they say for whom they ask.
    pub proxies: Arc<[IpNet]>,
    /// What whoever opens the school has to know, while nobody is in it.
    pub(crate) opening: Option<Arc<str>>,
    pub(crate) live: Live,
    pub(crate) passing: Passing,
    pub(crate) fair: Fair,
    pub(crate) throttle: Throttle,
    /// Tokens of who signed out when that could not be stored.
    ended: Arc<Mutex<HashSet<String>>>,
    lessons: Arc<Mutex<HashMap<i32, Arc<Lesson>>>>,
    /// What machines did when they were tried, by what they are; the latest last.
    trials: Arc<Mutex<VecDeque<(String, Complaint)>>>,
    pub(crate) reasoner: Reasoner,
    thinks_ahead: bool,
    pub(crate) benches: Benches,
    pub(crate) diagrams: Diagrams,
    pub(crate) pictures: Pictures,
    /// Looking at a password takes a core for a while.
    pub(crate) passwords: Gate,
    /// Database and computation.
    works: Gate,
}

impl AppState {
    pub fn new(store: Store, web: PathBuf) -> Self {
        Self {
            reasoner: Reasoner::new(store.clone()),
            // A database that fails says so where it is asked for something.
            passing: Passing::after(store.passed_s().unwrap_or(0)),
            store,
            web,
            proxies: Arc::default(),
            opening: None,
            live: Live::new(),
            fair: Fair::new(Rate::default()),
            throttle: Throttle::new(),
            ended: Arc::default(),
            lessons: Arc::default(),
            trials: Arc::default(),
            thinks_ahead: true,
            benches: Benches::default(),
            diagrams: Diagrams::default(),
            pictures: Pictures::default(),
            passwords: Gate::new(PASSWORDS, WAITING),
            works: Gate::new(WORKS, WAITING),
        }
    }

    /// The same, where a person may ask so often.
    #[must_use]
    pub fn with_rate(mut self, rate: Rate) -> Self {
        self.fair = Fair::new(rate);
        self
    }

    /// The same, where lessons are or are not thought through before anybody waits for it.
    #[must_use]
    pub fn thinking_ahead(mut self, whether: bool) -> Self {
        self.thinks_ahead = whether;
        self
    }

    /// The same, which has at hand what others have who hold these.
    #[must_use]
    pub fn sharing(mut self, references: &References) -> Self {
        self.reasoner = self.reasoner.clone().sharing(references.clone());
        self
    }

    /// The same, to be opened by whoever knows a code.
    #[must_use]
    pub fn to_open(mut self, code: &str) -> Self {
        self.opening = Some(code.into());
        self
    }

    /// The same, behind proxies that are believed.
    #[must_use]
    pub fn behind(mut self, proxies: Vec<IpNet>) -> Self {
        self.proxies = proxies.into();
        self
    }

    /// Lets a password, a PIN or a code be tried under a name, and counts it as wrong until it is told to be right.
    ///
    /// # Errors
    /// A [`Problem`] that says how long to wait.
    pub(crate) fn may_try(&self, name: &str, from: IpAddr) -> Result<(), Problem> {
        let tried = self.throttle.tries(name, from, Instant::now());
        tried.map_err(|wait| Problem::wait_to_sign_in(wait.as_secs_f64()))
    }

    /// Ends a sign-in that stays on record.
    pub(crate) fn end(&self, token: String) {
        let mut ended = self.ended.lock().unwrap_or_else(PoisonError::into_inner);
        ended.insert(token);
    }

    /// Whether a sign-in was ended, whatever is on record.
    pub(crate) fn has_ended(&self, token: &str) -> bool {
        let ended = self.ended.lock().unwrap_or_else(PoisonError::into_inner);
        ended.contains(token)
    }

    /// A lesson, checked. Lessons never change, so they are kept.
    pub(crate) fn lesson(&self, id: i32) -> Result<Arc<Lesson>, Problem> {
        let lock = || self.lessons.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(lesson) = lock().get(&id) {
            return Ok(Arc::clone(lesson));
        }
        let row = self.store.lesson(id)?;
        let lesson = Lesson::new(row.document)?;
        let mut kept = lock();
        if kept.len() >= LESSONS_KEPT {
            kept.clear();
        }
        kept.insert(id, Arc::clone(&lesson));
        Ok(lesson)
    }

    /// What a machine does when it is tried, worked out or remembered under a name that says all of it.
    pub(crate) fn tried(
        &self,
        machine: &str,
        try_it: impl FnOnce() -> Result<Complaint, BenchError>,
    ) -> Result<Complaint, BenchError> {
        let lock = || self.trials.lock().unwrap_or_else(PoisonError::into_inner);
        let known = lock().iter().find(|(m, _)| m == machine).cloned();
        if let Some((_, complaint)) = known {
            return Ok(complaint);
        }
        let complaint = try_it()?;
        let mut kept = lock();
        if kept.len() >= TRIALS_KEPT {
            kept.pop_front();
        }
        kept.push_back((machine.to_owned(), complaint.clone()));
        Ok(complaint)
    }

    /// The reference of a lesson, worked out if need be, which may take a while.
    pub(crate) async fn reference(
        &self,
        id: i32,
        lesson: &Arc<Lesson>,
        urgency: Urgency,
    ) -> Result<Arc<Reference>, Problem> {
        if !lesson.seeks_fault() {
            return Err(Problem::not_found("a fault to find on this machine"));
        }
        // It may have left the shelf again by the time its turn is over.
        for _ in 0..3 {
            if let Some(known) = self.reasoner.at_hand(id) {
                return Ok(known);
            }
            self.reasoner.reference(id, lesson, urgency)?.wait().await?;
        }
        Err(Problem::busy())
    }

    /// Has the reference of a lesson worked out, so that it is ready when it is asked.
    pub(crate) fn prepare(&self, id: i32, lesson: &Arc<Lesson>, urgency: Urgency) {
        if lesson.seeks_fault()
            && let Err(e) = self.reasoner.reference(id, lesson, urgency)
        {
            tracing::warn!("lesson {id}: {}", e.detail);
        }
    }

    /// The same for what will be asked sooner or later, where there is a machine to spare for it.
    pub(crate) fn think_ahead(&self, id: i32, lesson: &Arc<Lesson>) {
        if self.thinks_ahead {
            self.prepare(id, lesson, Urgency::GivenOut);
        }
    }

    /// Does blocking work, database and computation, away from the threads that serve.
    pub(crate) async fn work<T: Send + 'static>(
        &self,
        job: impl FnOnce(&Self) -> Result<T, Problem> + Send + 'static,
    ) -> Result<T, Problem> {
        let own = fair::own_place().await?;
        let place = self.works.enter().await?;
        let state = self.clone();
        let asked = tracing::Span::current();
        let job = move || {
            let done = asked.in_scope(|| job(&state));
            // Kept to the end, even if the asker has gone away.
            drop((own, place));
            done
        };
        match tokio::task::spawn_blocking(job).await {
            Ok(result) => result,
            Err(e) => {
                tracing::error!("a job failed: {e}");
                Err(Problem::internal())
            }
        }
    }
}

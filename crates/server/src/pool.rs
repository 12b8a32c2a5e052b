//! Long computations: a few at a time, the most urgent first, each once however many wait for it.

use std::collections::HashMap;
use std::hash::Hash;
use std::panic::{AssertUnwindSafe, catch_unwind};
use std::sync::{Arc, Condvar, Mutex, MutexGuard, PoisonError};
use std::thread;

use cimento_diagnosis::suspects::Progress;
use tokio::sync::watch;

use crate::problem::Problem;

/// Computations that may wait; whoever comes then is asked to come again.
const MOST_WAITING: usize = 200;

/// How urgent a computation is, the least first.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub(crate) enum Urgency {
    /// Nobody waits, and it takes long.
    IdleLong,
    /// Nobody waits: it will be asked for some day.
    Idle,
    /// A lesson is being given out.
    GivenOut,
    /// Somebody waits for a hint.
    Hint,
    /// Somebody waits for a mark.
    Mark,
}

/// How a computation ended; none while it has not.
type Ended = Option<Result<(), Problem>>;
type Run = Box<dyn FnOnce(&Arc<Progress>) -> Result<(), Problem> + Send>;

/// A computation that was asked for: how far it is, and its end.
#[derive(Clone)]
pub(crate) struct Ticket {
    pub progress: Arc<Progress>,
    ended: watch::Receiver<Ended>,
}

impl Ticket {
    /// How it ended; none while it has not.
    pub(crate) fn ended(&self) -> Option<Result<(), Problem>> {
        self.ended.borrow().clone()
    }

    /// Waits for its end.
    pub(crate) async fn wait(mut self) -> Result<(), Problem> {
        match self.ended.wait_for(Option::is_some).await {
            Ok(ended) => ended.clone().unwrap_or_else(|| Err(Problem::internal())),
            Err(_) => Err(Problem::internal()),
        }
    }
}

struct Job {
    urgency: Urgency,
    /// Of two as urgent, who came first.
    order: u64,
    /// None once it is being worked at.
    run: Option<Run>,
    ticket: Ticket,
    end: watch::Sender<Ended>,
}

struct Queue<K> {
    jobs: HashMap<K, Job>,
    came: u64,
}

impl<K: Clone + Eq + Hash> Queue<K> {
    /// What is to be worked at next, if it is more urgent than something.
    fn most_urgent(&self, than: Option<Urgency>) -> Option<K> {
        let open = self.jobs.iter().filter(|(_, job)| job.run.is_some());
        let open = open.filter(|(_, job)| than.is_none_or(|than| job.urgency > than));
        let next = open.max_by_key(|(_, job)| (job.urgency, std::cmp::Reverse(job.order)));
        next.map(|(what, _)| what.clone())
    }
}

struct Inner<K> {
    queue: Mutex<Queue<K>>,
    come: Condvar,
}

/// The computations with their workers; cheap to clone.
pub(crate) struct Pool<K>(Arc<Inner<K>>);

impl<K> Clone for Pool<K> {
    fn clone(&self) -> Self {
        Self(Arc::clone(&self.0))
    }
}

impl<K> Inner<K> {
    fn queue(&self) -> MutexGuard<'_, Queue<K>> {
        self.queue.lock().unwrap_or_else(PoisonError::into_inner)
    }
}

impl<K: Clone + Eq + Hash + Send + Sync + 'static> Pool<K> {
    /// A pool with so many workers.
    pub(crate) fn new(workers: usize) -> Self {
        let queue = Queue {
            jobs: HashMap::new(),
            came: 0,
        };
        let inner = Arc::new(Inner {
            queue: Mutex::new(queue),
            come: Condvar::new(),
        });
        for _ in 0..workers {
            let inner = Arc::clone(&inner);
            thread::spawn(move || work(&inner));
        }
        Self(inner)
    }

    /// Asks for a computation. One that is waiting or being worked at already is not begun again; it
    /// becomes as urgent as the most urgent who asks.
    ///
    /// # Errors
    /// A [`Problem`] when too much is waiting already.
    pub(crate) fn ask(
        &self,
        what: K,
        urgency: Urgency,
        run: impl FnOnce(&Arc<Progress>) -> Result<(), Problem> + Send + 'static,
    ) -> Result<Ticket, Problem> {
        self.ask_with(what, urgency, None, run)
    }

    /// The same for what needs another computation first: where that is asked for already it becomes as
    /// urgent, is not begun again between its own steps, and how far it is counts for both.
    ///
    /// # Errors
    /// As [`Pool::ask`].
    pub(crate) fn ask_with(
        &self,
        what: K,
        urgency: Urgency,
        needs: Option<&K>,
        run: impl FnOnce(&Arc<Progress>) -> Result<(), Problem> + Send + 'static,
    ) -> Result<Ticket, Problem> {
        let mut queue = self.0.queue();
        if let Some(job) = queue.jobs.get_mut(&what) {
            job.urgency = job.urgency.max(urgency);
            return Ok(job.ticket.clone());
        }
        if queue.jobs.len() >= MOST_WAITING {
            return Err(Problem::busy());
        }
        let needed = needs.and_then(|needs| queue.jobs.get_mut(needs));
        let progress = needed.map(|job| {
            job.urgency = job.urgency.max(urgency);
            Arc::clone(&job.ticket.progress)
        });
        queue.came += 1;
        let (end, ended) = watch::channel(None);
        let ticket = Ticket {
            progress: progress.unwrap_or_default(),
            ended,
        };
        let job = Job {
            urgency,
            order: queue.came,
            run: Some(Box::new(run)),
            ticket: ticket.clone(),
            end,
        };
        queue.jobs.insert(what, job);
        drop(queue);
        self.0.come.notify_one();
        Ok(ticket)
    }

    /// A computation that is waiting or being worked at.
    pub(crate) fn asked(&self, what: &K) -> Option<Ticket> {
        self.0.queue().jobs.get(what).map(|job| job.ticket.clone())
    }

    /// Gives a computation up, unless another needs it: what waits is taken out, what is being worked at ends at
    /// its next step.
    pub(crate) fn give_up(&self, what: &K) {
        let mut queue = self.0.queue();
        let Some(own) = queue.jobs.get(what) else {
            return;
        };
        let progress = Arc::clone(&own.ticket.progress);
        if own.run.is_some() {
            if let Some(job) = queue.jobs.remove(what) {
                let _ = job.end.send(Some(Err(Problem::given_up())));
            }
            return;
        }
        let mut others = queue.jobs.iter().filter(|(other, _)| *other != what);
        if !others.any(|(_, job)| Arc::ptr_eq(&job.ticket.progress, &progress)) {
            progress.give_up();
        }
    }

    /// How many are to be worked at before one.
    pub(crate) fn ahead(&self, what: &K) -> usize {
        let queue = self.0.queue();
        let Some(own) = queue.jobs.get(what) else {
            return 0;
        };
        let before =
            |job: &&Job| job.run.is_none() || (job.urgency, own.order) > (own.urgency, job.order);
        match own.run {
            None => 0,
            Some(_) => queue.jobs.values().filter(before).count(),
        }
    }
}

/// Works at the most urgent computation, one after the other.
fn work<K: Clone + Eq + Hash + Send + Sync + 'static>(inner: &Arc<Inner<K>>) {
    loop {
        let what = {
            let mut queue = inner.queue();
            loop {
                match queue.most_urgent(None) {
                    Some(what) => break what,
                    None => {
                        queue = inner
                            .come
                            .wait(queue)
                            .unwrap_or_else(PoisonError::into_inner)
                    }
                }
            }
        };
        run(inner, &what);
    }
}

/// Works at one computation, and between its steps at whatever has become more urgent: a long one holds
/// nobody up.
fn run<K: Clone + Eq + Hash + Send + Sync + 'static>(inner: &Arc<Inner<K>>, what: &K) {
    let taken = {
        let mut queue = inner.queue();
        let job = queue.jobs.get_mut(what);
        job.and_then(|job| Some((job.run.take()?, Arc::clone(&job.ticket.progress))))
    };
    let Some((work, progress)) = taken else {
        return;
    };
    progress.between_steps({
        let (inner, own) = (Arc::clone(inner), what.clone());
        move || {
            let urgent = {
                let queue = inner.queue();
                let own = queue.jobs.get(&own).map(|job| job.urgency);
                own.and_then(|own| queue.most_urgent(Some(own)))
            };
            if let Some(urgent) = urgent {
                run(&inner, &urgent);
            }
        }
    });
    let ended = catch_unwind(AssertUnwindSafe(|| work(&progress)));
    let ended = ended.unwrap_or_else(|_| Err(Problem::internal()));
    let job = inner.queue().jobs.remove(what);
    if let Some(job) = job {
        let _ = job.end.send(Some(ended));
    }
}

#[cfg(test)]
#[allow(clippy::unwrap_used)]
mod tests {
    use std::sync::mpsc;

    use super::*;

    /// A pool whose one worker is held up until the sender is dropped.
    fn held() -> (
        Pool<&'static str>,
        mpsc::Sender<()>,
        mpsc::Receiver<&'static str>,
        mpsc::Sender<&'static str>,
    ) {
        let pool = Pool::new(1);
        let (hold, held) = mpsc::channel::<()>();
        let (tell, told) = mpsc::channel();
        let (begun, begins) = mpsc::channel();
        pool.ask("first", Urgency::Idle, move |_| {
            begun.send(()).unwrap();
            let _ = held.recv();
            Ok(())
        })
        .unwrap();
        begins.recv().unwrap();
        (pool, hold, told, tell)
    }

    #[test]
    fn the_most_urgent_comes_first_and_each_once() {
        let (pool, hold, told, tell) = held();
        let ask = |what, urgency| {
            let tell = tell.clone();
            pool.ask(what, urgency, move |_| {
                tell.send(what).unwrap();
                Ok(())
            })
            .unwrap();
        };
        ask("idle", Urgency::Idle);
        ask("given out", Urgency::GivenOut);
        ask("hint", Urgency::Hint);
        ask("late", Urgency::Hint);
        // Asked for again, and now somebody waits for a mark.
        ask("idle", Urgency::Mark);
        assert_eq!(pool.ahead(&"idle"), 1);
        assert_eq!(pool.ahead(&"late"), 3);
        drop(hold);
        drop(tell);
        let order: Vec<_> = (0..4).map(|_| told.recv().unwrap()).collect();
        assert_eq!(order, ["idle", "hint", "late", "given out"]);
    }

    #[tokio::test]
    async fn what_falls_over_ends_in_a_problem_and_the_worker_goes_on() {
        let pool = Pool::new(1);
        let falls = pool.ask(1, Urgency::Mark, |_| panic!("fell over")).unwrap();
        assert!(falls.wait().await.is_err());
        let goes = pool.ask(2, Urgency::Mark, |_| Ok(())).unwrap();
        assert!(goes.wait().await.is_ok());
        assert!(pool.asked(&2).is_none());
    }

    /// Between two steps of what nobody waits for, what somebody waits for is done.
    #[tokio::test]
    async fn what_is_urgent_does_not_wait_for_the_end_of_what_is_long() {
        let pool = Pool::new(1);
        let (begun, begins) = mpsc::channel();
        let (go, goes) = mpsc::channel::<()>();
        let (tell, told) = mpsc::channel();
        let said = tell.clone();
        let long = pool.ask("long", Urgency::Idle, move |progress| {
            begun.send(()).unwrap();
            goes.recv().unwrap();
            progress.step()?;
            said.send("long").unwrap();
            Ok(())
        });
        begins.recv().unwrap();
        for (what, urgency) in [("idle", Urgency::Idle), ("mark", Urgency::Mark)] {
            let tell = tell.clone();
            pool.ask(what, urgency, move |_| {
                tell.send(what).unwrap();
                Ok(())
            })
            .unwrap();
        }
        go.send(()).unwrap();
        assert!(long.unwrap().wait().await.is_ok());
        let order: Vec<_> = (0..3).map(|_| told.recv().unwrap()).collect();
        assert_eq!(order, ["mark", "long", "idle"]);
    }

    /// What needs a computation that is going on is not begun between its steps, and is as far as that is.
    #[tokio::test]
    async fn what_needs_another_follows_it() {
        let pool = Pool::new(1);
        let (begun, begins) = mpsc::channel();
        let (go, goes) = mpsc::channel::<()>();
        let (tell, told) = mpsc::channel();
        let said = tell.clone();
        pool.ask("reference", Urgency::Idle, move |progress| {
            progress.begin("halving", 2);
            progress.step()?;
            begun.send(()).unwrap();
            goes.recv().unwrap();
            progress.step()?;
            said.send("reference").unwrap();
            Ok(())
        })
        .unwrap();
        begins.recv().unwrap();
        let needs = Some(&"reference");
        let marks = pool.ask_with("marks", Urgency::Mark, needs, move |_| {
            tell.send("marks").unwrap();
            Ok(())
        });
        let marks = marks.unwrap();
        assert_eq!(
            (marks.progress.share(), marks.progress.about()),
            (0.5, "halving")
        );
        go.send(()).unwrap();
        assert!(marks.wait().await.is_ok());
        let order: Vec<_> = (0..2).map(|_| told.recv().unwrap()).collect();
        assert_eq!(order, ["reference", "marks"]);
    }

    #[tokio::test]
    async fn what_waits_is_given_up_at_once_and_what_is_worked_at_at_its_next_step() {
        let pool = Pool::new(1);
        let (begun, begins) = mpsc::channel();
        let (go, goes) = mpsc::channel::<()>();
        let long = pool.ask("long", Urgency::Idle, move |progress| {
            begun.send(()).unwrap();
            goes.recv().unwrap();
            progress.step()?;
            Ok(())
        });
        begins.recv().unwrap();
        let queued = pool.ask("queued", Urgency::Idle, |_| Ok(())).unwrap();
        pool.give_up(&"queued");
        assert_eq!(queued.ended().unwrap().unwrap_err().status, 409);
        pool.give_up(&"nothing of the kind");
        pool.give_up(&"long");
        go.send(()).unwrap();
        assert_eq!(long.unwrap().wait().await.unwrap_err().status, 409);
        assert!(pool.asked(&"long").is_none() && pool.asked(&"queued").is_none());
    }

    #[tokio::test]
    async fn what_another_needs_is_not_given_up() {
        let pool = Pool::new(1);
        let (begun, begins) = mpsc::channel();
        let (go, goes) = mpsc::channel::<()>();
        let reference = pool.ask("reference", Urgency::Idle, move |progress| {
            begun.send(()).unwrap();
            goes.recv().unwrap();
            progress.step()?;
            Ok(())
        });
        begins.recv().unwrap();
        let marks = pool.ask_with("marks", Urgency::Mark, Some(&"reference"), |_| Ok(()));
        pool.give_up(&"reference");
        go.send(()).unwrap();
        assert!(reference.unwrap().wait().await.is_ok());
        assert!(marks.unwrap().wait().await.is_ok());
    }

    #[test]
    fn too_much_waiting_is_refused() {
        let pool = Pool::<usize>::new(0);
        for n in 0..MOST_WAITING {
            assert!(pool.ask(n, Urgency::Idle, |_| Ok(())).is_ok());
        }
        let refused = pool.ask(MOST_WAITING, Urgency::Mark, |_| Ok(()));
        assert_eq!(refused.err().unwrap().status, 503);
        assert!(pool.ask(3, Urgency::Mark, |_| Ok(())).is_ok());
    }
}

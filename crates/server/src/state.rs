//! What every route works with.

use std::collections::HashMap;
use std::path::PathBuf;
use std::sync::{Arc, Mutex, PoisonError};

use cimento_core::attempt::Lesson;
use cimento_store::Store;

use crate::problem::Problem;

/// Lessons kept checked and ready.
const LESSONS_KEPT: usize = 64;

/// Shared state; cheap to clone.
#[derive(Clone)]
pub struct AppState {
    pub store: Store,
    /// Folder of the built page.
    pub web: PathBuf,
    lessons: Arc<Mutex<HashMap<i32, Arc<Lesson>>>>,
}

impl AppState {
    pub fn new(store: Store, web: PathBuf) -> Self {
        Self {
            store,
            web,
            lessons: Arc::default(),
        }
    }

    /// A lesson, checked. Lessons never change, so they are kept.
    pub(crate) fn lesson(&self, id: i32) -> Result<Arc<Lesson>, Problem> {
        let lock = || self.lessons.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(lesson) = lock().get(&id) {
            return Ok(Arc::clone(lesson));
        }
        let row = self.store.lesson(id)?;
        let lesson = Arc::new(Lesson::new(row.document).map_err(Problem::from)?);
        let mut kept = lock();
        if kept.len() >= LESSONS_KEPT {
            kept.clear();
        }
        kept.insert(id, Arc::clone(&lesson));
        Ok(lesson)
    }

    /// Does blocking work, database and computation, away from the threads that serve.
    pub(crate) async fn work<T: Send + 'static>(
        &self,
        job: impl FnOnce(&Self) -> Result<T, Problem> + Send + 'static,
    ) -> Result<T, Problem> {
        let state = self.clone();
        match tokio::task::spawn_blocking(move || job(&state)).await {
            Ok(result) => result,
            Err(e) => {
                tracing::error!("a job failed: {e}");
                Err(Problem::internal())
            }
        }
    }
}

/// Seconds since 1970.
pub(crate) fn now() -> i64 {
    let since = std::time::SystemTime::now().duration_since(std::time::UNIX_EPOCH);
    since.map_or(0, |d| i64::try_from(d.as_secs()).unwrap_or(i64::MAX))
}

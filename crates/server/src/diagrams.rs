//! Diagrams of what was given out: where the tracks of each stand, worked out once.
//!
//! Whoever gives a drawing out makes it known here, and the page asks for the diagram by the drawing's shape. A
//! placement takes up to a second; it is kept in the database, but for drafts of the workshop, which change with each
//! edit and follow one another.

use std::num::NonZeroUsize;
use std::sync::{Arc, Mutex, MutexGuard, OnceLock, PoisonError};

use cimento_model::circuit::{Circuit, Drawing};
use cimento_tracks::{Flow, Placement, Scene, Size, WAY};
use lru::LruCache;

use crate::problem::Problem;
use crate::state::AppState;

/// Drawings that are known at once, the least recently used goes first: a few dozen kilobytes each.
const KNOWN: usize = 256;

/// A drawing that somebody was given.
pub(crate) struct Known {
    circuit: Arc<Circuit>,
    drawing: Drawing,
    /// The draft that this one was made from.
    before: Option<Arc<Known>>,
    /// It is of a circuit that is kept.
    kept: bool,
    laid: OnceLock<Laid>,
}

/// Which way current goes, and where the tracks stand.
struct Laid {
    flow: Flow,
    placement: Placement,
}

/// The drawings that are known; cheap to clone.
#[derive(Clone)]
pub(crate) struct Diagrams(Arc<Mutex<LruCache<String, Arc<Known>>>>);

impl Default for Diagrams {
    fn default() -> Self {
        let known = NonZeroUsize::new(KNOWN).unwrap_or(NonZeroUsize::MIN);
        Self(Arc::new(Mutex::new(LruCache::new(known))))
    }
}

impl Diagrams {
    fn list(&self) -> MutexGuard<'_, LruCache<String, Arc<Known>>> {
        self.0.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Makes the drawing of a kept circuit known, and gives it.
    pub(crate) fn of(&self, circuit: &Arc<Circuit>) -> Drawing {
        self.know(circuit, None, true)
    }

    /// Makes the drawing of a draft known that was made from another, by the other's shape.
    pub(crate) fn of_draft(&self, circuit: &Arc<Circuit>, before: Option<&str>) -> Drawing {
        self.know(circuit, before, false)
    }

    fn know(&self, circuit: &Arc<Circuit>, before: Option<&str>, kept: bool) -> Drawing {
        let drawing = circuit.drawing();
        let mut list = self.list();
        let same = list.get(&drawing.shape).map(|known| known.kept || !kept);
        if same != Some(true) {
            let before = before.and_then(|shape| list.get(shape)).cloned();
            // A draft that is kept from now on stands as it stood.
            let before = before.or_else(|| list.get(&drawing.shape).cloned());
            // Only the last draft is needed, not all of its history.
            let before = before.map(|b| b.alone());
            let known = Known {
                circuit: Arc::clone(circuit),
                drawing: drawing.clone(),
                before,
                kept,
                laid: OnceLock::new(),
            };
            list.put(drawing.shape.clone(), Arc::new(known));
        }
        drawing
    }

    fn find(&self, shape: &str) -> Option<Arc<Known>> {
        self.list().get(shape).cloned()
    }
}

impl Known {
    /// The same without what it was made from, where it has been laid out.
    fn alone(self: Arc<Self>) -> Arc<Self> {
        if self.before.is_none() || self.laid.get().is_none() {
            return self;
        }
        let laid = OnceLock::new();
        if let Some(Laid { flow, placement }) = self.laid.get() {
            let _ = laid.set(Laid {
                flow: flow.clone(),
                placement: placement.clone(),
            });
        }
        let (circuit, drawing) = (Arc::clone(&self.circuit), self.drawing.clone());
        Arc::new(Self {
            circuit,
            drawing,
            before: None,
            kept: self.kept,
            laid,
        })
    }

    fn laid(&self, state: &AppState) -> &Laid {
        self.laid.get_or_init(|| {
            // A circuit that is not finished has no current that could be told.
            let flow = cimento_bench::flow(&self.circuit).unwrap_or_default();
            let placement = self.place(state, &flow);
            Laid { flow, placement }
        })
    }

    fn place(&self, state: &AppState, flow: &Flow) -> Placement {
        let key = format!("{}-{WAY}", self.drawing.structure());
        let stored = self
            .kept
            .then(|| state.store.placement(&key).ok().flatten())
            .flatten();
        let stored = stored.and_then(|text| serde_json::from_str::<Placement>(&text).ok());
        if let Some(stored) = stored.filter(|p| p.fits(&self.drawing, flow)) {
            return stored;
        }
        let placement = match &self.before {
            Some(before) => {
                let old = before.laid(state);
                cimento_tracks::follow(
                    &self.drawing,
                    flow,
                    (&before.drawing, &old.flow, &old.placement),
                )
            }
            None => cimento_tracks::place(&self.drawing, flow),
        };
        if let (true, Ok(text)) = (self.kept, serde_json::to_string(&placement)) {
            // A diagram that could not be stored is worked out again after a restart.
            let _ = state.store.add_placement(&key, &text);
        }
        placement
    }
}

impl AppState {
    /// The diagram of a drawing that was given out, on a sheet.
    ///
    /// # Errors
    /// A [`Problem`] when no drawing of that shape was given out since the server was started.
    pub(crate) fn diagram(&self, shape: &str, size: Size) -> Result<Scene, Problem> {
        let known = self.diagrams.find(shape);
        let known = known
            .ok_or_else(|| Problem::not_found("diagram of that shape; load the page again"))?;
        let laid = known.laid(self);
        Ok(cimento_tracks::draw(
            &known.drawing,
            &laid.flow,
            &laid.placement,
            size,
        ))
    }
}

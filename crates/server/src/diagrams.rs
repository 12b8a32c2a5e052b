//! Diagrams of what was given out: where the tracks of each stand, worked out once.
//!
//! Whoever gives a drawing out makes it known here, and the page asks for the diagram by the drawing's shape. A
//! placement takes up to a second; it is kept in the database, but for drafts of the workshop, which change with each
//! edit and follow one another.

use std::num::NonZeroUsize;
use std::sync::{Arc, Mutex, MutexGuard, OnceLock, PoisonError};

use cimento_model::circuit::{Circuit, Drawing};
use cimento_store::Store;
use cimento_tracks::{Flow, Placement, Scene, Size, WAY};
use lru::LruCache;

use crate::problem::Problem;

/// Drawings that are known at once, the least recently used goes first: a few dozen kilobytes each.
const KNOWN: usize = 256;

/// A drawing that somebody was given.
pub(crate) struct Known {
    circuit: Arc<Circuit>,
    drawing: Drawing,
    /// The draft that this one was made from, until it is laid out.
    before: Mutex<Option<Arc<Known>>>,
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
        let same = list.get(&drawing.shape).cloned();
        if same.as_ref().is_none_or(|known| kept && !known.kept) {
            // A draft that is kept from now on stands as it stood.
            let before = before.and_then(|shape| list.get(shape)).cloned().or(same);
            let known = Known {
                circuit: Arc::clone(circuit),
                drawing: drawing.clone(),
                before: Mutex::new(before.and_then(Known::laid_out)),
                kept,
                laid: OnceLock::new(),
            };
            list.put(drawing.shape.clone(), Arc::new(known));
        }
        drawing
    }

    /// The diagram of a drawing that was given out, on a sheet.
    ///
    /// # Errors
    /// A [`Problem`] when no drawing of that shape was given out since the server was started.
    pub(crate) fn draw(&self, store: &Store, shape: &str, size: Size) -> Result<Scene, Problem> {
        let known = self.list().get(shape).cloned();
        let missing = "diagram of that shape; load the page again";
        let known = known.ok_or_else(|| Problem::not_found(missing))?;
        let laid = known.lay_out(store);
        Ok(cimento_tracks::draw(
            &known.drawing,
            &laid.flow,
            &laid.placement,
            size,
        ))
    }
}

impl Known {
    fn before(&self) -> MutexGuard<'_, Option<Arc<Self>>> {
        self.before.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// The same, or the latest of those that it was made from, that has been laid out.
    fn laid_out(self: Arc<Self>) -> Option<Arc<Self>> {
        match self.laid.get() {
            Some(_) => Some(self),
            None => self.before().clone(),
        }
    }

    fn lay_out(&self, store: &Store) -> &Laid {
        self.laid.get_or_init(|| {
            // A circuit that is not finished has no current that could be told.
            let flow = cimento_bench::flow(&self.circuit).unwrap_or_default();
            let placement = self.place(store, &flow);
            Laid { flow, placement }
        })
    }

    fn place(&self, store: &Store, flow: &Flow) -> Placement {
        let key = format!("{}-{WAY}", self.drawing.structure());
        let stored = match self.kept {
            true => store.placement(&key).ok().flatten(),
            false => None,
        };
        let stored = stored.and_then(|text| serde_json::from_str::<Placement>(&text).ok());
        if let Some(stored) = stored.filter(|p| p.fits(&self.drawing, flow)) {
            return stored;
        }
        let before = self.before().take();
        let placement = match before.as_ref().and_then(|b| Some((b, b.laid.get()?))) {
            Some((before, old)) => {
                let old = (&before.drawing, &old.flow, &old.placement);
                cimento_tracks::follow(&self.drawing, flow, old)
            }
            None => cimento_tracks::place(&self.drawing, flow),
        };
        if let (true, Ok(text)) = (self.kept, serde_json::to_string(&placement)) {
            // A diagram that could not be stored is worked out again after a restart.
            let _ = store.add_placement(&key, &text);
        }
        placement
    }
}

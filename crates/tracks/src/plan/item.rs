//! The room that things on a track take.

use super::{Item, What};
use crate::Length;
use crate::text::{FONT, figures, width, wrap};

/// A wire's label in two lines and in one.
const WIRE: Length = 2200;
const WIRE_FLAT: Length = 1300;
/// From a track to the text beside it.
pub const BESIDE: Length = 500;
const CAVITY: Length = 1400;
const MOUNT: Length = 1400;
const FUSE: Length = 2400;
const PART: Length = 2800;
/// Names are broken into lines of about this width.
const NAME: Length = 4600;
/// Figures of a reading: the one at the upper end of a wire stands behind its number, the one at the lower end below.
const READING: Length = 5;
impl<'d> Item<'d> {
    pub(super) fn new(what: What<'d>, points: [&'d str; 2]) -> Self {
        let mut item = Self {
            what,
            points,
            left: 600,
            right: 600,
            right_flat: 600,
            height: 0,
            height_flat: 0,
            lines: Vec::new(),
        };
        item.measure();
        item.right_flat = item.right_flat.max(if matches!(what, What::Wire(_)) {
            0
        } else {
            item.right
        });
        item.height_flat = if matches!(what, What::Wire(_)) {
            WIRE_FLAT
        } else {
            item.height
        };
        item
    }

    fn measure(&mut self) {
        match self.what {
            What::Wire(wire) => {
                let number = width(&wire.id, true) + width(" ", true);
                let about = width(&wire.label, false);
                self.left = 400;
                self.right = BESIDE + about.max(number + figures(READING));
                self.right_flat = BESIDE + number + about.max(figures(2 * READING + 1));
                self.height = WIRE;
            }
            What::Cavity(cavity) => {
                self.left = 800;
                self.right = 1000 + width(&cavity_name(&cavity.id), false);
                self.height = CAVITY;
            }
            What::Splice(id) => {
                self.left = 500;
                self.right = 700 + width(id, true);
                self.height = 1200;
            }
            What::Mount(part) => {
                self.left = 400;
                self.right = 600 + width(&format!("{} case", part.id), false);
                self.height = MOUNT;
            }
            What::Part(part) if part.is_fuse => {
                self.lines = vec![part.id.clone(), part.rating.clone()];
                self.left = 700;
                self.right = 1000 + width(&part.id, true).max(width(&part.rating, false));
                self.height = FUSE;
            }
            What::Part(part) => {
                self.lines = vec![part.id.clone()];
                self.lines.extend(wrap(&part.name, NAME));
                self.lines
                    .extend(Some(part.rating.clone()).filter(|r| !r.is_empty()));
                let widest = self
                    .lines
                    .iter()
                    .enumerate()
                    .map(|(n, line)| width(line, n == 0));
                self.left = 1200;
                self.right = 1500 + widest.max().unwrap_or(0);
                let lines = Length::try_from(self.lines.len()).unwrap_or(Length::MAX / FONT);
                self.height = PART.max(lines * 1000 + 200);
            }
            What::Link => self.height = 800,
        }
    }
}
/// A cavity as it is written on a diagram.
pub fn cavity_name(id: &str) -> String {
    id.replace('.', "·")
}

//! What a placement puts where: each track in one piece, or in two halves where it is cut.

use crate::Length;
use crate::placement::Placement;
use crate::plan::{BESIDE, Plan, Track, Way, What};
use crate::text::width;

/// Room for the tag of a cut wire.
pub const TAG: Length = 1300;
/// A bracket between two terminals of one box.
const JUMPER: Length = 3600;
/// The mark of a case that is bolted down where it stands.
const CASE: Length = 1900;
/// An end at the foot that belongs to no track.
const FOOT: Length = 2600;

/// Ranks are doubled, so that a half track has a place between two hubs; this is below all of them.
pub const BELOW: i32 = 100_000;

/// Room that a stretch of a track takes: across, and along it in what keeps its length and in wires, which may
/// be longer.
#[derive(Clone, Copy, Debug, Default)]
pub struct Room {
    pub left: Length,
    pub right: Length,
    pub firm: Length,
    pub elastic: Length,
}

impl Room {
    /// Length with wires longer by a factor, in thousandths.
    pub fn length(&self, stretch: i64) -> Length {
        let elastic = i64::from(self.elastic) * stretch / 1000;
        self.firm + Length::try_from(elastic).unwrap_or(Length::MAX / 4)
    }
}

/// What a piece is.
#[derive(Clone, Copy, PartialEq, Eq, Debug)]
pub enum Kind {
    Whole,
    /// The half at this end of a track that is cut at one of its items.
    Half {
        end: usize,
        cut: usize,
    },
    Jumper,
    Perch,
    /// A case marked where it stands.
    Case,
    /// What stands at the foot by itself, by number.
    Foot(usize),
}

/// A piece of a track in its column.
#[derive(Clone, Copy, Debug)]
pub struct Piece {
    pub kind: Kind,
    /// The track; of what stands at the foot by itself none.
    pub track: usize,
    pub column: usize,
    /// The hubs it hangs from and stands on.
    pub upper: Option<usize>,
    pub lower: Option<usize>,
    /// It goes down to the grounds.
    pub footed: bool,
    /// The track's end that is up.
    pub end_up: usize,
    /// From which rank to which it takes its column.
    pub from_rank: i32,
    pub to_rank: i32,
    pub room: Room,
}

impl Piece {
    /// It hangs free at one end.
    pub fn is_stub(&self) -> bool {
        !self.footed && self.upper.is_some() != self.lower.is_some()
    }

    /// The hub of a free piece.
    pub fn hub(&self) -> Option<usize> {
        self.upper.or(self.lower)
    }

    /// Both take the same place in one column; ends at the foot stand side by side.
    pub fn lies_on(&self, other: &Self) -> bool {
        let both_feet = self.is_foot() && other.is_foot();
        both_feet || (self.from_rank < other.to_rank && other.from_rank < self.to_rank)
    }

    /// It goes on above and below a rank.
    pub fn goes_through(&self, rank: i32) -> bool {
        self.from_rank < rank && self.to_rank > rank
    }

    pub fn is_foot(&self) -> bool {
        matches!(self.kind, Kind::Foot(_))
    }
}

/// The room of each track in all ways that it can be placed, worked out once.
pub struct Rooms {
    whole: Vec<[Room; 2]>,
    /// By track, by number of the wire that is cut, by end, by flat.
    halves: Vec<Vec<[[Room; 2]; 2]>>,
    cases: Vec<Room>,
    feet: Vec<Room>,
    /// The end of a jumper that stands in its own column: the one without another wire.
    pub far: Vec<usize>,
}

impl Rooms {
    pub fn new(plan: &Plan<'_>) -> Self {
        let whole = plan.tracks.iter().map(|t| {
            [false, true].map(|flat| match t.way {
                Way::Jumper => Room {
                    firm: JUMPER,
                    ..across(t, 0, t.items.len(), flat)
                },
                Way::Perch => Room {
                    left: 600,
                    right: 600,
                    firm: 0,
                    elastic: 0,
                },
                Way::Run | Way::Link => room(t, 0, t.items.len(), flat),
            })
        });
        let halves = plan.tracks.iter().map(|t| {
            let wires = t.wires.iter().map(|cut| {
                [0, 1].map(|end| {
                    let (from, to) = if end == 0 {
                        (0, cut + 1)
                    } else {
                        (*cut, t.items.len())
                    };
                    let tag = 1700 + width(t.ends[1 - end].point, false);
                    [false, true].map(|flat| {
                        let mut half = room(t, from, to, flat);
                        half.right = half.right.max(tag);
                        half.firm += TAG;
                        half
                    })
                })
            });
            wires.collect()
        });
        let cases = plan.tracks.iter().map(|t| {
            let metal = t.ends.iter().find_map(|e| e.foot());
            let metal = metal.map_or(0, |(metal, _)| width(metal, false));
            Room {
                left: 700,
                right: 1100 + metal,
                firm: CASE,
                elastic: 0,
            }
        });
        let feet = plan.feet.iter().map(|foot| {
            let label = |wire: &cimento_model::circuit::DrawnWire| {
                BESIDE + 100 + width(&wire.id, true).max(width(&wire.label, false))
            };
            let right = match foot.strap {
                Some((wire, true)) => label(wire),
                _ => 1400,
            };
            let name = foot
                .end
                .foot()
                .and_then(|(_, ground)| ground)
                .map_or(0, |g| 600 + width(g, true));
            Room {
                left: 500,
                right: right.max(name),
                firm: FOOT,
                elastic: 0,
            }
        });
        let busy = |point: &str, but: usize| {
            let others = plan.tracks.iter().enumerate().filter(|(n, _)| *n != but);
            others.flat_map(|(_, t)| &t.ends).any(|e| e.point == point)
        };
        let far = plan.tracks.iter().enumerate();
        let far = far.map(|(n, t)| usize::from(busy(t.ends[0].point, n)));
        Self {
            whole: whole.collect(),
            halves: halves.collect(),
            cases: cases.collect(),
            feet: feet.collect(),
            far: far.collect(),
        }
    }

    /// The pieces of a placement.
    pub fn pieces(
        &self,
        plan: &Plan<'_>,
        placement: &Placement,
        rank: &[i32],
        out: &mut Vec<Piece>,
    ) {
        out.clear();
        let tracks = plan.tracks.len();
        for (n, track) in plan.tracks.iter().enumerate() {
            let hubs = [track.ends[0].hub(), track.ends[1].hub()];
            let flat = usize::from(placement.flat[n]);
            let stub = |kind, end: usize, slot: usize, down: bool, room| {
                let hub = hubs[end];
                let at = hub.map_or(BELOW, |h| rank[h]);
                Piece {
                    kind,
                    track: n,
                    column: placement.column[slot],
                    upper: hub.filter(|_| down),
                    lower: hub.filter(|_| !down),
                    footed: false,
                    end_up: if down { end } else { 1 - end },
                    from_rank: if down { at } else { at - 1 },
                    to_rank: if down { at + 1 } else { at },
                    room,
                }
            };
            match track.way {
                Way::Jumper => out.push(stub(
                    Kind::Jumper,
                    self.far[n],
                    n,
                    placement.down[n],
                    self.whole[n][0],
                )),
                Way::Perch => out.push(stub(Kind::Perch, 0, n, true, self.whole[n][0])),
                Way::Run | Way::Link => match placement.cut[n] {
                    Some(_) if track.is_case_alone() => {
                        let end = usize::from(hubs[0].is_none());
                        out.push(stub(Kind::Case, end, n, true, self.cases[n]));
                    }
                    Some(cut) if track.may_be_cut() => {
                        let number = cut % track.wires.len();
                        for end in 0..2 {
                            let slot = n + end * tracks;
                            let kind = Kind::Half {
                                end,
                                cut: track.wires[number],
                            };
                            let room = self.halves[n][number][end][flat];
                            out.push(stub(kind, end, slot, placement.down[slot], room));
                        }
                    }
                    _ => {
                        let ranks = hubs.map(|h| h.map_or(BELOW, |h| rank[h]));
                        let up = usize::from(ranks[0] > ranks[1]);
                        out.push(Piece {
                            kind: Kind::Whole,
                            track: n,
                            column: placement.column[n],
                            upper: hubs[up],
                            lower: hubs[1 - up],
                            footed: hubs[1 - up].is_none(),
                            end_up: up,
                            from_rank: ranks[up],
                            to_rank: ranks[1 - up],
                            room: self.whole[n][flat],
                        });
                    }
                },
            }
        }
        for (n, room) in self.feet.iter().enumerate() {
            out.push(Piece {
                kind: Kind::Foot(n),
                track: usize::MAX,
                column: placement.column[2 * tracks + n],
                upper: None,
                lower: None,
                footed: true,
                end_up: 0,
                from_rank: BELOW - 1,
                to_rank: BELOW,
                room: *room,
            });
        }
    }
}

fn across(track: &Track<'_>, from: usize, to: usize, flat: bool) -> Room {
    let items = || track.items[from..to].iter();
    let right = items().map(|i| if flat { i.right_flat } else { i.right });
    let room = Room {
        left: items().map(|i| i.left).max().unwrap_or(600),
        right: right.max().unwrap_or(600),
        firm: 0,
        elastic: 0,
    };
    // The name of a ground stands beside the foot of its track.
    let ground = track
        .ends
        .iter()
        .find_map(|e| e.foot().and_then(|(_, ground)| ground));
    let name = ground.map_or(0, |g| 600 + width(g, true));
    Room {
        right: room.right.max(name),
        ..room
    }
}

fn room(track: &Track<'_>, from: usize, to: usize, flat: bool) -> Room {
    let mut room = across(track, from, to, flat);
    for item in &track.items[from..to] {
        let height = if flat { item.height_flat } else { item.height };
        match item.what {
            What::Wire(_) | What::Mount(_) => room.elastic += height,
            _ => room.firm += height,
        }
    }
    room
}

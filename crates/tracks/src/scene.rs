//! A diagram as it is drawn: what stands where, without colours or symbols, which are the page's.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A diagram on a sheet of some size. Lengths are in diagram units: a text is nine of them high.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Scene {
    pub width: f64,
    pub height: f64,
    /// Pixels a diagram unit on the sheet that was asked for.
    pub scale: f64,
    pub wires: Vec<WireRun>,
    pub tags: Vec<CutTag>,
    pub strokes: Vec<Stroke>,
    pub boxes: Vec<PartBox>,
    pub symbols: Vec<Symbol>,
    pub texts: Vec<Text>,
    pub points: Vec<PointSpot>,
    /// Where the marks of places go: something found wrong, ruled out, held suspect.
    pub places: Vec<PlaceSpot>,
}

/// A position.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Spot {
    pub x: f64,
    pub y: f64,
}

/// A wire from one end to the other; a wire that is cut has two.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct WireRun {
    pub id: String,
    /// Its corners, from the upper end to the lower.
    pub path: Vec<Spot>,
    /// The test points at its upper and its lower end.
    pub ends: [String; 2],
}

/// Where a wire is cut, and where it goes on.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct CutTag {
    pub wire: String,
    pub x: f64,
    pub y: f64,
    /// It points down the sheet.
    pub down: bool,
    /// The test point at the other end.
    pub to: String,
}

/// Lines that are no wires.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum StrokeKind {
    /// The supply rail, and from there to the battery.
    Rail,
    Link,
    /// What joins the wires of a splice, or of a terminal.
    Bar,
    Strip,
    /// From a symbol to its terminal.
    Lead,
    /// What a coil moves.
    Moves,
    /// Through the cavities of one connector.
    Row,
    Ground,
    GroundRun,
    Metal,
    /// A case on its metal: a line down to it, or the mark of it in place.
    Mount,
    Chassis,
}

/// A line.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Stroke {
    pub kind: StrokeKind,
    /// What it belongs to: a place, a point, a connector.
    pub own: String,
    pub path: Vec<Spot>,
}

/// The box of a part.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct PartBox {
    pub id: String,
    pub x: f64,
    pub y: f64,
    pub width: f64,
    pub height: f64,
}

/// What a symbol stands for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum SymbolOf {
    /// A part on its track, with both its terminals.
    Part,
    /// A part's sign in its box.
    Sign,
    /// The coil or the contact of a relay, on their tracks.
    Coil,
    Contact,
    Cavity,
}

/// A symbol about its middle.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Symbol {
    pub of: SymbolOf,
    /// The part or cavity.
    pub id: String,
    pub x: f64,
    pub y: f64,
    /// It stands on its head: what feeds it comes from below.
    pub turned: bool,
    /// A contact that moves to the right.
    pub mirrored: bool,
}

/// What a text is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum TextRole {
    /// An id.
    Name,
    /// A name in words, a rating.
    Note,
    Terminal,
    /// A wire's number, and its area and colour; readings at its ends may take the place of these.
    Number,
    About,
}

/// A text, from its left end on its base line.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Text {
    pub role: TextRole,
    pub text: String,
    pub x: f64,
    pub y: f64,
    /// What it belongs to.
    pub own: String,
}

/// Where a test point stands; a point may stand in several spots.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct PointSpot {
    pub id: String,
    pub x: f64,
    pub y: f64,
}

/// Where the mark of a place goes.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct PlaceSpot {
    pub id: String,
    pub x: f64,
    pub y: f64,
}

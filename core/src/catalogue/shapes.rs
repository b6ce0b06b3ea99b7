//! How meat lies and is wrapped: trade habits, used for estimates from weight and thickness.

use serde::{Deserialize, Serialize};

/// Habits of shape and wrapping, as the data file words them.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Shapes {
    /// Meat (g/cm³).
    pub density_g_per_cm3: f64,
    /// How much of its box a flat slab fills.
    pub flat_fill: f64,
    /// How much of its box a rounded muscle fills.
    pub round_fill: f64,
    /// What a bag needs past the piece to be closed (mm).
    pub bag_close_mm: f64,
    /// Spare casing and net for the ends, as a share.
    pub casing_spare: f64,
    /// Net for the knots (mm).
    pub net_knots_mm: f64,
    /// A casing sheet overlaps itself by so much (mm).
    pub sheet_overlap_mm: f64,
    /// A net or casing fits when its girth is within this share of the piece's.
    pub girth_fit: f64,
    /// Ties stand so far apart (mm).
    pub tie_spacing_mm: f64,
    /// The first and last stand so far from the ends (mm).
    pub tie_edge_mm: f64,
    /// String for one tie past once around (mm).
    pub tie_knot_mm: f64,
}

//! How large a piece lies, from what a scale and a ruler say of it.

use crate::catalogue::Catalogue;
use crate::catalogue::shapes::Shapes;
use crate::catalogue::species::Cut;
use crate::units::{Grams, Litres, Millimetres};
use serde::{Deserialize, Serialize};
use std::f64::consts::PI;
use std::sync::LazyLock;

/// Habits of shape, read once: geometry is nobody's opinion and no argument.
pub(crate) static SHAPES: LazyLock<Shapes> = LazyLock::new(|| Catalogue::shipped().shapes);

/// The length, width and thickness of a piece as it lies on the table.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Size {
    /// Along the grain, or the longest side (mm).
    pub length_mm: f64,
    /// Across it (mm).
    pub width_mm: f64,
    /// Greatest thickness (mm).
    pub thickness_mm: f64,
}

impl Size {
    /// Estimates length and width from weight and thickness, by how its cut usually lies.
    ///
    /// # Source
    /// Volume at 1.05 g/cm³, a share of the box filled by its shape; habits in `shapes.toml`.
    #[must_use]
    pub fn estimate(mass: Grams, thickness: Millimetres, cut: &Cut) -> Self {
        let (mass_g, thickness_mm) = (mass.0, thickness.0);
        let fill = if cut.flat {
            SHAPES.flat_fill
        } else {
            SHAPES.round_fill
        };
        let volume_mm3 = mass_g / SHAPES.density_g_per_cm3 * 1_000.0;
        let area_mm2 = volume_mm3 / (thickness_mm * fill);
        Self {
            length_mm: (area_mm2 * cut.length_to_width).sqrt(),
            width_mm: (area_mm2 / cut.length_to_width).sqrt(),
            thickness_mm,
        }
    }

    /// Once around it, as an ellipse of its width and thickness.
    ///
    /// # Source
    /// Ramanujan's first approximation of an ellipse's circumference.
    #[must_use]
    pub fn girth(self) -> Millimetres {
        let (a, b) = (self.width_mm / 2.0, self.thickness_mm / 2.0);
        Millimetres(PI * (3.0 * (a + b) - ((3.0 * a + b) * (a + 3.0 * b)).sqrt()))
    }

    /// The room so much meat takes in a fridge or tub.
    #[must_use]
    pub fn volume(mass: Grams) -> Litres {
        Litres(mass.0 / SHAPES.density_g_per_cm3 / 1_000.0)
    }

    /// True when it goes into a bag either way round and leaves room to close it.
    #[must_use]
    pub fn fits_bag(self, bag_width: Millimetres, bag_length: Millimetres) -> bool {
        let goes = |length: f64, width: f64| {
            width + self.thickness_mm <= bag_width.0 + 1e-9
                && length + self.thickness_mm + SHAPES.bag_close_mm <= bag_length.0 + 1e-9
        };
        goes(self.length_mm, self.width_mm) || goes(self.width_mm, self.length_mm)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_belly_is_as_large_as_its_weight_says() {
        let catalogue = Catalogue::shipped();
        let belly = catalogue.species("pig").unwrap().cut("belly").unwrap();
        let size = Size::estimate(Grams(5_000.0), Millimetres(45.0), belly);
        // 5000 / 1.05 cm³ over 4.5 cm, 95 % filled: 1114 cm²; 2.2 times as long as wide.
        assert!((size.length_mm - 495.0).abs() < 1.0, "{size:?}");
        assert!((size.width_mm - 225.0).abs() < 1.0, "{size:?}");
    }

    #[test]
    fn the_girth_of_a_round_piece_is_a_circle() {
        let round = Size {
            length_mm: 300.0,
            width_mm: 80.0,
            thickness_mm: 80.0,
        };
        assert!((round.girth().0 - PI * 80.0).abs() < 1e-9);
    }

    #[test]
    fn a_bag_needs_room_for_the_thickness_and_to_close() {
        let size = Size {
            length_mm: 300.0,
            width_mm: 200.0,
            thickness_mm: 50.0,
        };
        #[rustfmt::skip]
        let cases = [
            ("just",         (250.0, 410.0), true),
            ("too narrow",   (249.0, 500.0), false),
            ("too short",    (250.0, 409.0), false),
            ("turned round", (350.0, 310.0), true),
        ];
        for (why, bag, want) in cases {
            assert_eq!(
                size.fits_bag(Millimetres(bag.0), Millimetres(bag.1)),
                want,
                "{why}"
            );
        }
    }
}

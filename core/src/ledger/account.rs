//! Where milligrams can be, and the one spelling of each place.

use crate::animal::byproduct::Byproduct;
use crate::ids::{LotId, PackId, PieceId, word};
use serde::{Deserialize, Serialize};
use std::fmt;

/// Where mass goes that nobody keeps.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Loss {
    /// Head, hide and guts, between the known weight and the carcass.
    Dressing,
    /// Saw dust, drip and drying while cutting.
    Cutting,
    /// Liquid drawn out by a dry cure, poured off.
    Drip,
    /// Brine poured off.
    SpentBrine,
    /// Water and fat lost in the smoker.
    Smoke,
    /// Water and fat lost over steam, in water or in the oven.
    Cooking,
    /// Water lost on the hook or in the open.
    Evaporation,
    /// What stays in grinder, mixer, bowl and stuffer.
    Machine,
    /// Crumbs and smears of slicing and packing.
    Slicing,
    /// Eaten, used or given away before it was packed.
    Used,
    /// Thrown away.
    Waste,
    /// What nothing explains; a negative one is an unexplained gain.
    Unaccounted,
}

/// A place where milligrams can be.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Account {
    /// The world outside the household.
    Outside,
    /// What is still to be weighed out of a lot.
    Lot,
    /// A piece's own meat.
    Piece(PieceId),
    /// The cure, brine and liquid that lie with a piece.
    InCure(PieceId),
    /// A finished pack.
    Pack(PackId),
    /// Something kept beside the pieces.
    Byproduct(Byproduct),
    /// Given to another lot.
    Given(LotId),
    /// Something added, by its name.
    Material(String),
    /// Something nobody keeps.
    Loss(Loss),
}

impl fmt::Display for Account {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::Outside => f.write_str("outside"),
            Self::Lot => f.write_str("lot"),
            Self::Piece(p) => write!(f, "piece:{}", p.0),
            Self::InCure(p) => write!(f, "in_cure:{}", p.0),
            Self::Pack(p) => write!(f, "pack:{}", p.0),
            Self::Byproduct(kind) => write!(f, "byproduct:{}", word(kind)),
            Self::Given(lot) => write!(f, "given:{}", lot.0),
            Self::Material(name) => write!(f, "material:{name}"),
            Self::Loss(kind) => write!(f, "loss:{}", word(kind)),
        }
    }
}

impl std::str::FromStr for Account {
    type Err = String;

    fn from_str(text: &str) -> Result<Self, String> {
        let (kind, name) = text.split_once(':').unwrap_or((text, ""));
        let unknown = || format!("no account “{text}”");
        let id = || name.parse::<i64>().map_err(|_| unknown());
        Ok(match kind {
            "outside" => Self::Outside,
            "lot" => Self::Lot,
            "piece" => Self::Piece(PieceId(id()?)),
            "in_cure" => Self::InCure(PieceId(id()?)),
            "pack" => Self::Pack(PackId(id()?)),
            "given" => Self::Given(LotId(id()?)),
            "byproduct" => {
                Self::Byproduct(serde_json::from_value(name.into()).map_err(|_| unknown())?)
            }
            "material" => Self::Material(name.into()),
            "loss" => Self::Loss(serde_json::from_value(name.into()).map_err(|_| unknown())?),
            _ => return Err(unknown()),
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn an_account_reads_back_as_written() {
        let accounts = [
            Account::Outside,
            Account::Lot,
            Account::Piece(PieceId(7)),
            Account::InCure(PieceId(7)),
            Account::Pack(PackId(3)),
            Account::Byproduct(Byproduct::Fat),
            Account::Given(LotId(4)),
            Account::Material("cure #1".into()),
            Account::Loss(Loss::SpentBrine),
        ];
        for account in accounts {
            assert_eq!(account.to_string().parse(), Ok(account));
        }
        assert_eq!(
            "loss:luck".parse::<Account>().unwrap_err(),
            "no account “loss:luck”"
        );
    }
}

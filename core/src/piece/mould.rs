//! A call on mould: by its colour and how it feels, never by a hope.

use crate::piece::{Checked, Piece};
use serde::{Deserialize, Serialize};

/// The colour of mould.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum MouldColour {
    /// White.
    White,
    /// Grey-green.
    GreyGreen,
    /// Black or brown.
    Black,
    /// Yellow, orange or red.
    Bright,
}

impl MouldColour {
    /// All of them.
    pub const ALL: [Self; 4] = [Self::White, Self::GreyGreen, Self::Black, Self::Bright];
}

/// How mould looks close by.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum MouldTexture {
    /// Chalky, a dry powder that lies flat.
    Chalky,
    /// Dry spots.
    Dry,
    /// Fuzzy, with hairs.
    Fuzzy,
    /// Wet or slimy.
    Wet,
}

impl MouldTexture {
    /// All of them.
    pub const ALL: [Self; 4] = [Self::Chalky, Self::Dry, Self::Fuzzy, Self::Wet];
}

/// How much of it there is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum MouldCover {
    /// Single spots.
    Spots,
    /// Patches.
    Patches,
    /// Nearly all round.
    Covered,
}

/// Where mould comes from.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Culture {
    /// A culture was sprayed on.
    Sprayed,
    /// It came by itself.
    Wild,
}

/// Mould as it was seen.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct MouldSeen {
    /// Its colour.
    pub colour: MouldColour,
    /// How it looks close by.
    pub texture: MouldTexture,
    /// True when it is under the casing, or where there is none, in the meat.
    #[serde(default)]
    pub under: bool,
    /// True when it smells bad.
    #[serde(default)]
    pub smells: bool,
    /// True for few spots that were not there at the last look, on the casing only.
    #[serde(default)]
    pub fresh: bool,
    /// How much of it there is.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub cover: Option<MouldCover>,
    /// Where it comes from.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub culture: Option<Culture>,
}

/// What to do about it; each is a grade of the look at mould.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum MouldCall {
    /// Leave it, or brush it.
    Good,
    /// Wipe with vinegar, watch.
    Wipe,
    /// Out of the chamber at once.
    TakeOut,
    /// Thrown away, untasted.
    Discard,
}

impl MouldCall {
    /// All of them, the mildest first.
    pub const ALL: [Self; 4] = [Self::Good, Self::Wipe, Self::TakeOut, Self::Discard];

    /// Its word among the grades of the look at mould.
    #[must_use]
    pub const fn grade(self) -> &'static str {
        match self {
            Self::Good => "good",
            Self::Wipe => "wipe",
            Self::TakeOut => "take_out",
            Self::Discard => "discard",
        }
    }
}

impl MouldSeen {
    /// What to do about mould like this.
    #[must_use]
    pub const fn call(&self) -> MouldCall {
        match (self.texture, self.colour) {
            // Slime below the casing has come from within.
            (MouldTexture::Wet, _) if self.under => MouldCall::Discard,
            _ if self.smells && self.under => MouldCall::Discard,
            _ if self.smells => MouldCall::TakeOut,
            (MouldTexture::Wet | MouldTexture::Fuzzy, _) => MouldCall::TakeOut,
            (MouldTexture::Chalky | MouldTexture::Dry, MouldColour::White) if !self.under => {
                MouldCall::Good
            }
            (MouldTexture::Chalky | MouldTexture::Dry, MouldColour::GreyGreen) if !self.under => {
                MouldCall::Wipe
            }
            // A dry spot that is new, on the casing only, may be wiped and watched.
            (MouldTexture::Dry, MouldColour::Black | MouldColour::Bright)
                if self.fresh && !self.under =>
            {
                MouldCall::Wipe
            }
            (
                MouldTexture::Chalky | MouldTexture::Dry,
                MouldColour::White
                | MouldColour::GreyGreen
                | MouldColour::Black
                | MouldColour::Bright,
            ) => MouldCall::TakeOut,
        }
    }

    /// As it is written down: never what it does, always what it is.
    #[must_use]
    pub fn label(&self) -> String {
        let colour = match self.colour {
            MouldColour::White => "white",
            MouldColour::GreyGreen => "grey-green",
            MouldColour::Black => "black or brown",
            MouldColour::Bright => "yellow, orange or red",
        };
        let texture = match self.texture {
            MouldTexture::Chalky => "chalky",
            MouldTexture::Dry => "dry spots",
            MouldTexture::Fuzzy => "fuzzy",
            MouldTexture::Wet => "wet",
        };
        let mut said = vec![colour, texture];
        if self.under {
            said.push("under the casing");
        }
        if self.smells {
            said.push("smells bad");
        }
        if self.fresh {
            said.push("new since the last look");
        }
        said.extend(self.cover.map(|c| match c {
            MouldCover::Spots => "single spots",
            MouldCover::Patches => "patches",
            MouldCover::Covered => "nearly all round",
        }));
        said.extend(self.culture.map(|c| match c {
            Culture::Sprayed => "a culture that was sprayed on",
            Culture::Wild => "wild",
        }));
        said.join(", ")
    }
}

/// The look at mould.
pub const MOULD: &str = "mould";

/// What a look showed last of the piece as a whole.
pub(crate) fn newest<'a>(piece: &'a Piece, check: &str) -> Option<&'a Checked> {
    let whole = piece
        .checks
        .iter()
        .filter(|c| c.pack.is_none() && c.check == check);
    whole.max_by_key(|c| (c.at, c.entry))
}

/// The last look at its mould, where that said: out of the chamber, or worse.
#[must_use]
pub fn bad_mould_of(piece: &Piece) -> Option<&Checked> {
    newest(piece, MOULD).filter(|c| {
        let grade = c.grade.as_deref();
        [MouldCall::TakeOut, MouldCall::Discard]
            .iter()
            .any(|call| grade == Some(call.grade()))
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use MouldColour::*;
    use MouldTexture::*;

    fn seen(colour: MouldColour, texture: MouldTexture) -> MouldSeen {
        MouldSeen {
            colour,
            texture,
            under: false,
            smells: false,
            fresh: false,
            cover: None,
            culture: None,
        }
    }

    #[test]
    fn every_colour_and_texture_has_its_call() {
        #[rustfmt::skip]
        let table = [
            //            chalky              dry                 fuzzy               wet
            (White,     [MouldCall::Good,    MouldCall::Good,    MouldCall::TakeOut, MouldCall::TakeOut]),
            (GreyGreen, [MouldCall::Wipe,    MouldCall::Wipe,    MouldCall::TakeOut, MouldCall::TakeOut]),
            (Black,     [MouldCall::TakeOut, MouldCall::TakeOut, MouldCall::TakeOut, MouldCall::TakeOut]),
            (Bright,    [MouldCall::TakeOut, MouldCall::TakeOut, MouldCall::TakeOut, MouldCall::TakeOut]),
        ];
        for (colour, calls) in table {
            for (texture, call) in [Chalky, Dry, Fuzzy, Wet].into_iter().zip(calls) {
                assert_eq!(seen(colour, texture).call(), call, "{colour:?} {texture:?}");
            }
        }
    }

    #[test]
    fn where_it_sits_how_new_it_is_and_how_it_smells_change_the_call() {
        let fresh = MouldSeen {
            fresh: true,
            ..seen(Black, Dry)
        };
        assert_eq!(fresh.call(), MouldCall::Wipe);
        assert_eq!(
            MouldSeen {
                under: true,
                ..fresh
            }
            .call(),
            MouldCall::TakeOut
        );
        assert_eq!(
            MouldSeen {
                fresh: true,
                ..seen(Bright, Fuzzy)
            }
            .call(),
            MouldCall::TakeOut
        );
        assert_eq!(
            MouldSeen {
                under: true,
                ..seen(White, Wet)
            }
            .call(),
            MouldCall::Discard
        );
        assert_eq!(
            MouldSeen {
                smells: true,
                ..seen(White, Chalky)
            }
            .call(),
            MouldCall::TakeOut
        );
        assert_eq!(
            MouldSeen {
                under: true,
                ..seen(GreyGreen, Dry)
            }
            .call(),
            MouldCall::TakeOut
        );
    }

    #[test]
    fn nothing_makes_a_call_milder_but_being_new() {
        for colour in [White, GreyGreen, Black, Bright] {
            for texture in [Chalky, Dry, Fuzzy, Wet] {
                let plain = seen(colour, texture);
                for (under, smells) in [(true, false), (false, true), (true, true)] {
                    let worse = MouldSeen {
                        under,
                        smells,
                        ..plain
                    };
                    assert!(worse.call() >= plain.call(), "{worse:?}");
                }
            }
        }
    }
}

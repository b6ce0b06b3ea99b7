//! The calculators: nothing stored, SI in and out.

use crate::App;
use crate::body::{Body, Written};
use crate::error::{ApiError, Problem};
use actix_web::post;
use actix_web::web::{Data, Json};
use manifest_core::assign::blend::{FatBlendAnswer, FatBlendAsk, fat_blend};
use manifest_core::catalogue::Catalogue;
use manifest_core::caution::FieldError;
use manifest_core::cure::batch::{BatchMixAnswer, BatchMixAsk, batch_mix};
use manifest_core::cure::brine::{EquilibriumBrineAnswer, EquilibriumBrineAsk, equilibrium_brine};
use manifest_core::cure::cover::{CoverBrineAnswer, CoverBrineAsk, cover_brine};
use manifest_core::cure::dry::{DryCureAnswer, DryCureAsk, dry_cure};
use manifest_core::cure::front::{CureFrontAnswer, CureFrontAsk, cure_front};
use manifest_core::cure::injection::{InjectionAnswer, InjectionAsk, injection};
use manifest_core::cure::methods::label::{LabelCureAnswer, LabelCureAsk, label_cure};
use manifest_core::cure::spoons::{SpoonsAnswer, SpoonsAsk, spoons};
use manifest_core::cure::time::{CureTimeAnswer, CureTimeAsk, cure_time};
use manifest_core::hang::forecast::{HangForecastAnswer, HangForecastAsk, hang_forecast};
use manifest_core::hang::{HangTargetAnswer, HangTargetAsk, hang_target};
use manifest_core::heat::done_when::{DoneWhenAnswer, DoneWhenAsk, done_when};
use manifest_core::heat::lethality::{LethalityAnswer, LethalityAsk, lethality};
use manifest_core::recipe::{RecipeCheckAnswer, RecipeCheckAsk, recipe_check};
use manifest_core::units::Units;
use utoipa_actix_web::service_config::ServiceConfig;

macro_rules! calculators {
    ($($path:literal, $handler:ident: $ask:ty => $answer:ty, $compute:expr, $words:literal;)+) => {
        $(
            #[doc = $words]
            #[utoipa::path(
                tag = "calculators",
                request_body = $ask,
                responses((status = 200, body = $answer), (status = 400, body = Problem), (status = 422, body = Problem))
            )]
            #[post($path)]
            async fn $handler(app: Data<App>, ask: Body<$ask>) -> Result<Json<$answer>, ApiError> {
                let compute: fn(&$ask, &Catalogue) -> Result<$answer, Vec<FieldError>> = $compute;
                Ok(Json(compute(&ask.value, &app.catalogue())?))
            }
        )+

        /// Mounts the calculators.
        pub fn routes(config: &mut ServiceConfig<'_>) {
            config$(.service($handler))+.service(calc_recipe_check);
        }
    };
}

// A new calculator is a file in the core and a line here.
#[rustfmt::skip]
calculators! {
    "/calc/dry-cure", calc_dry_cure: DryCureAsk => DryCureAnswer, dry_cure, "A measured dry cure for one piece, with its error band.";
    "/calc/batch-mix", calc_batch_mix: BatchMixAsk => BatchMixAnswer, batch_mix, "One mix for several pieces, shared out by weight.";
    "/calc/equilibrium-brine", calc_equilibrium_brine: EquilibriumBrineAsk => EquilibriumBrineAnswer, equilibrium_brine, "A brine that cannot oversalt.";
    "/calc/cover-brine", calc_cover_brine: CoverBrineAsk => CoverBrineAnswer, cover_brine, "A recipe's cover brine, by pickup and by equilibrium.";
    "/calc/injection", calc_injection: InjectionAsk => InjectionAnswer, injection, "What a pump brings into the meat, as wished or by the scale.";
    "/calc/label-cure", calc_label_cure: LabelCureAsk => LabelCureAnswer, label_cure, "A pre-blended cure at the rate of its label.";
    "/calc/spoons", calc_spoons: SpoonsAsk => SpoonsAnswer, spoons, "Spoons and cups in grams.";
    "/calc/cure-time", calc_cure_time: CureTimeAsk => CureTimeAnswer, |ask, c| cure_time(ask, &c.schools, Units::METRIC), "Days in the cure by every school that applies.";
    "/calc/cure-front", calc_cure_front: CureFrontAsk => CureFrontAnswer, |ask, _| cure_front(ask), "How far the cure has walked, by diffusion.";
    "/calc/hang-forecast", calc_hang_forecast: HangForecastAsk => HangForecastAnswer, |ask, _| hang_forecast(ask), "When a hanging piece will have lost enough, from its own weighings.";
    "/calc/hang-target", calc_hang_target: HangTargetAsk => HangTargetAnswer, |ask, _| hang_target(ask), "The weight to wait for on the hook.";
    "/calc/lethality", calc_lethality: LethalityAsk => LethalityAnswer, |ask, _| lethality(ask), "What a run of inside temperatures has done to salmonella; information, never a permission.";
    "/calc/done-when", calc_done_when: DoneWhenAsk => DoneWhenAnswer, |ask, _| done_when(ask), "When the inside will be at its target, from what its probe said lately.";
    "/calc/fat-blend", calc_fat_blend: FatBlendAsk => FatBlendAnswer, |ask, _| fat_blend(ask), "Lean and fat blended to a wanted share of fat.";
}

/// What somebody's recipe says, comes to and gets wrong, and the same in grams. Its text is read as it came, line by line.
#[utoipa::path(
    tag = "calculators",
    request_body = RecipeCheckAsk,
    responses((status = 200, body = RecipeCheckAnswer), (status = 400, body = Problem), (status = 422, body = Problem))
)]
#[post("/calc/recipe-check")]
async fn calc_recipe_check(
    app: Data<App>,
    Written(ask): Written<RecipeCheckAsk>,
) -> Result<Json<RecipeCheckAnswer>, ApiError> {
    let catalogue = app.catalogue();
    // A page of text is read off the threads that answer everybody.
    let read = move || recipe_check(&ask, &catalogue);
    let answer = actix_web::web::block(read).await.map_err(|_| {
        ApiError::TooSlow("The recipe could not be read just now. Send it again.")
    })??;
    Ok(Json(answer))
}

//! What the program knows before anything came in: species, products, cures, rules, schools.

use crate::App;
use crate::error::{ApiError, Problem};
use actix_web::get;
use actix_web::web::{Data, Json, Query};
use manifest_core::assign::{Candidate, Suitability, rank};
use manifest_core::catalogue::builds::Build;
use manifest_core::catalogue::cures::Cure;
use manifest_core::catalogue::cutting::Choice;
use manifest_core::catalogue::heat_rules::HeatRule;
use manifest_core::catalogue::rules::RuleSet;
use manifest_core::catalogue::species::Species;
use manifest_core::catalogue::steps::{Check, StepKind, StepStation};
use manifest_core::catalogue::time_rules::TimeRule;
use manifest_core::catalogue::words::Words;
use manifest_core::place::PlaceKind;
use manifest_core::shape::Shape;
use manifest_core::units::{Millimetres, Typed};
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use utoipa_actix_web::service_config::ServiceConfig;

/// Everything the program knows before anything came in.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct Catalogue {
    /// Species with their cuts.
    species: Vec<Species>,
    /// Products.
    builds: Vec<Build>,
    /// Ways of cutting, by name.
    cutting: Vec<Choice>,
    /// Curing salts.
    cures: Vec<Cure>,
    /// Rule sets.
    rule_sets: Vec<RuleSet>,
    /// Cure-time schools.
    schools: Vec<TimeRule>,
    /// Rules of heat; the first where nobody picks.
    heat_rules: Vec<HeatRule>,
    /// Checks with their grades.
    checks: Vec<Check>,
    /// Kinds of places.
    place_kinds: Vec<PlaceKind>,
    /// Kinds of step, in the usual order of the work.
    step_kinds: Vec<StepKindView>,
}

/// A kind of step, as every list and button calls it.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct StepKindView {
    /// The kind.
    kind: StepKind,
    /// As it is called.
    said: String,
    /// Where it is entered; none for what is done on the way.
    station: Option<StepStation>,
    /// What writes it down.
    done_by: manifest_core::catalogue::steps::DoneBy,
}

/// Species, builds, cures, rules and schools.
#[utoipa::path(tag = "reading", responses((status = 200, body = Catalogue)))]
#[get("/catalogue")]
async fn catalogue(app: Data<App>) -> Json<Catalogue> {
    let c = app.catalogue();
    let step_kinds = StepKind::ALL.map(|kind| {
        let traits = kind.traits();
        StepKindView {
            kind,
            said: traits.said.into(),
            station: traits.station,
            done_by: traits.done_by,
        }
    });
    Json(Catalogue {
        species: c.species.iter().map(|s| (**s).clone()).collect(),
        builds: c.builds.iter().map(|b| (**b).clone()).collect(),
        cutting: c.cutting.clone(),
        cures: c.cures.clone(),
        rule_sets: c.rules.clone(),
        schools: c.schools.list.clone(),
        heat_rules: c.heat.clone(),
        checks: c.checks.clone(),
        place_kinds: c.place_kinds.clone(),
        step_kinds: step_kinds.into(),
    })
}

/// What screens call the members of every enumeration of this description: by its name, by form, by member.
#[utoipa::path(tag = "reading", responses((status = 200, body = Words)))]
#[get("/words")]
async fn words(app: Data<App>) -> Json<Words> {
    Json(app.catalogue().words.clone())
}

/// Which species and cut builds are to be ranked for.
#[derive(Clone, Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct SuitsAsk {
    /// The species' word.
    species: String,
    /// The cut's word.
    cut: String,
    /// Greatest thickness (mm).
    #[serde(default)]
    thickness_mm: Option<f64>,
}

/// Builds ranked for a cut not yet cut.
#[utoipa::path(tag = "reading", params(SuitsAsk), responses((status = 200, body = Vec<Suitability>), (status = 422, body = Problem)))]
#[get("/suits")]
async fn suits(app: Data<App>, ask: Query<SuitsAsk>) -> Result<Json<Vec<Suitability>>, ApiError> {
    let known = app.catalogue();
    let species = known
        .species(&ask.species)
        .ok_or_else(|| ApiError::field("species", "Choose a species from the list."))?;
    let cut = species.cut(&ask.cut).ok_or_else(|| {
        ApiError::field(
            "cut",
            format!("Choose one of the cuts of {}.", species.name),
        )
    })?;
    Ok(Json(app.store.read(|_, home| {
        let candidate = Candidate {
            species,
            cut,
            wild: false,
            shape: Shape {
                thickness: ask.thickness_mm.map(|mm| Typed::unsaid(Millimetres(mm))),
                bone_in: cut.bone_in,
                skin_on: cut.skin_on,
                ..Shape::default()
            },
            opened: false,
            fat: None,
            is_cut: false,
            equipment: home.settings.equipment.as_ref(),
            holds: &[],
            units: home.settings.units,
        };
        rank(&candidate, &known)
    })))
}

/// Mounts the catalogue.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config.service(catalogue).service(words).service(suits);
}

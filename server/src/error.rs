//! Every refusal as one shape: `application/problem+json` with the field and words.

use crate::limits::AGAIN_AFTER_S;
use actix_web::http::{StatusCode, header};
use actix_web::{HttpResponse, ResponseError};
use manifest_core::caution::{FieldError, Finding};
use manifest_core::ledger::book::{Obstacle, Refusal};
use manifest_core::reason;
use manifest_store::{PutError, StoreError, WriteError};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A problem as RFC 9457 spells it, with what this application adds.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
pub struct Problem {
    /// A stable word for the kind of problem, as a URN.
    #[serde(rename = "type")]
    pub kind: String,
    /// The kind in words.
    pub title: String,
    /// The HTTP status.
    pub status: u16,
    /// What happened and what to do.
    pub detail: String,
    /// Each field that cannot be right.
    #[serde(default)]
    pub errors: Vec<FieldError>,
    /// What gives pause, when the person may keep it as typed or has to give a reason.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub findings: Vec<Finding>,
    /// Later entries in the way, or what changed since the page was opened.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub entries: Vec<EntryInWords>,
}

/// An entry someone should look at.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
pub struct EntryInWords {
    /// Its number.
    pub entry: i64,
    /// What it is.
    pub what: String,
    /// Why it matters.
    pub why: String,
}

/// Why a request is not answered.
#[derive(Debug, thiserror::Error)]
pub enum ApiError {
    /// The body is not JSON.
    #[error("{0}")]
    NotJson(String),
    /// Fields that cannot be right.
    #[error("{}", sentences(.0))]
    Fields(Vec<FieldError>),
    /// Numbers that look mistyped.
    #[error("This looks odd. Look at it again, or keep it as typed.")]
    Question(Vec<Finding>),
    /// A stop that wants a reason, or lets nobody pass.
    #[error("{1}")]
    Stopped(Vec<Finding>, &'static str),
    /// The page is older than the piece.
    #[error(
        "This changed on another device since you opened it. Look at what is new, then do it again."
    )]
    Outdated(Vec<EntryInWords>),
    /// Later entries stand in the way.
    #[error("Later entries depend on this one. Undo or correct them first.")]
    InTheWay(Vec<EntryInWords>),
    /// The address names nothing.
    #[error("{0}")]
    NotFound(String),
    /// The ledger's rules refuse it for another reason.
    #[error("{0}")]
    Conflict(String),
    /// The request comes from a foreign page or under a foreign name.
    #[error("{0}")]
    Foreign(&'static str),
    /// The machine's clock was wrong when something was written, or is wrong now.
    #[error("{0}")]
    Clock(String),
    /// The ledger cannot be written to, for a reason that a person can do something about.
    #[error("{0}")]
    Unwritable(String),
    /// It did not come in time.
    #[error("{0}")]
    TooSlow(&'static str),
    /// Everybody has their hands full.
    #[error("{0}")]
    Busy(&'static str),
    /// The address knows other methods only; which ones.
    #[error("This address does not do that. It takes {0}.")]
    Method(String),
    /// More than is taken.
    #[error("{0}")]
    TooLarge(&'static str),
    /// Something broke here.
    #[error(
        "Something broke here; nothing was written. Try again, and look at the program's output if it happens twice."
    )]
    Internal,
}

fn sentences(errors: &[FieldError]) -> String {
    errors
        .iter()
        .map(|e| e.message.as_str())
        .collect::<Vec<_>>()
        .join(" ")
}

impl ApiError {
    /// One field that cannot be right.
    pub fn field(field: &str, message: impl Into<String>) -> Self {
        Self::Fields(vec![FieldError::new(field, message)])
    }

    /// The same refusal under the name that the field has here.
    #[must_use]
    pub fn at(self, there: &str, here: &str) -> Self {
        match self {
            Self::Fields(mut errors) => {
                for error in errors.iter_mut().filter(|e| e.field == there) {
                    error.field = here.into();
                }
                Self::Fields(errors)
            }
            other => other,
        }
    }

    /// The same refusal of something inside a list: its fields begin with `place`.
    #[must_use]
    pub fn under(self, place: &str) -> Self {
        match self {
            Self::Fields(errors) => Self::Fields(
                errors
                    .into_iter()
                    .map(|e| FieldError {
                        field: format!("{place}.{}", e.field),
                        ..e
                    })
                    .collect(),
            ),
            other => other,
        }
    }

    fn kind(&self) -> (&'static str, &'static str, StatusCode) {
        match self {
            Self::NotJson(_) => ("not-json", "Not readable", StatusCode::BAD_REQUEST),
            Self::Fields(_) => (
                "fields",
                "Not possible as typed",
                StatusCode::UNPROCESSABLE_ENTITY,
            ),
            Self::Question(_) => ("question", "Please look again", StatusCode::CONFLICT),
            Self::Stopped(..) => ("stopped", "Stopped", StatusCode::UNPROCESSABLE_ENTITY),
            Self::Outdated(_) => ("outdated", "Changed since", StatusCode::CONFLICT),
            Self::InTheWay(_) => (
                "in-the-way",
                "Later entries depend on it",
                StatusCode::CONFLICT,
            ),
            Self::NotFound(_) => ("not-found", "Not here", StatusCode::NOT_FOUND),
            Self::Conflict(_) => ("conflict", "Not possible now", StatusCode::CONFLICT),
            Self::Clock(_) => ("clock", "The clock is wrong", StatusCode::CONFLICT),
            Self::Foreign(_) => ("foreign", "Refused", StatusCode::FORBIDDEN),
            Self::Unwritable(_) => (
                "unwritable",
                "Nothing was written",
                StatusCode::INSUFFICIENT_STORAGE,
            ),
            Self::TooSlow(_) => ("too-slow", "Too slow", StatusCode::REQUEST_TIMEOUT),
            Self::Busy(_) => ("busy", "Busy", StatusCode::SERVICE_UNAVAILABLE),
            Self::Method(_) => ("method", "Not done here", StatusCode::METHOD_NOT_ALLOWED),
            Self::TooLarge(_) => ("too-large", "Too much", StatusCode::PAYLOAD_TOO_LARGE),
            Self::Internal => (
                "internal",
                "Something broke",
                StatusCode::INTERNAL_SERVER_ERROR,
            ),
        }
    }

    fn problem(&self) -> Problem {
        let (kind, title, status) = self.kind();
        let mut problem = Problem {
            kind: format!("urn:build-manifest:{kind}"),
            title: title.into(),
            status: status.as_u16(),
            detail: self.to_string(),
            errors: Vec::new(),
            findings: Vec::new(),
            entries: Vec::new(),
        };
        match self {
            Self::Fields(errors) => problem.errors = errors.clone(),
            Self::Question(findings) => problem.findings = findings.clone(),
            Self::Stopped(findings, message) => {
                problem.findings = findings.clone();
                let error = FieldError::new("reason", *message);
                problem.errors = vec![if *message == reason::WANTED {
                    error.code("reason_wanted")
                } else {
                    error
                }];
            }
            Self::Outdated(entries) | Self::InTheWay(entries) => problem.entries = entries.clone(),
            Self::NotJson(_)
            | Self::NotFound(_)
            | Self::Conflict(_)
            | Self::Foreign(_)
            | Self::Clock(_)
            | Self::Unwritable(_)
            | Self::TooSlow(_)
            | Self::Busy(_)
            | Self::Method(_)
            | Self::TooLarge(_)
            | Self::Internal => {}
        }
        problem
    }
}

impl ResponseError for ApiError {
    fn status_code(&self) -> StatusCode {
        self.kind().2
    }

    fn error_response(&self) -> HttpResponse {
        let mut answer = HttpResponse::build(self.status_code());
        answer.insert_header((header::CONTENT_TYPE, "application/problem+json"));
        if let Self::Method(allowed) = self {
            answer.insert_header((header::ALLOW, allowed.as_str()));
        }
        if let Self::Busy(_) = self {
            answer.insert_header((header::RETRY_AFTER, AGAIN_AFTER_S));
        }
        if let Self::TooSlow(_) | Self::TooLarge(_) = self {
            // What is still on its way is not waited for.
            answer.force_close();
        }
        answer.json(self.problem())
    }
}

impl From<Refusal> for ApiError {
    fn from(refusal: Refusal) -> Self {
        match refusal {
            Refusal::Fields(errors) => Self::Fields(errors),
            Refusal::InTheWay(obstacles) => {
                Self::InTheWay(obstacles.into_iter().map(EntryInWords::from).collect())
            }
            Refusal::NotLive | Refusal::PlaceTaken => Self::Conflict(refusal.to_string()),
            Refusal::NoEntry | Refusal::NoLot => Self::NotFound(refusal.to_string()),
        }
    }
}

impl From<Obstacle> for EntryInWords {
    fn from(obstacle: Obstacle) -> Self {
        Self {
            entry: obstacle.entry.0,
            what: obstacle.what,
            why: obstacle.why,
        }
    }
}

impl From<StoreError> for ApiError {
    fn from(error: StoreError) -> Self {
        log::error!("{error}: {error:?}");
        match error {
            StoreError::BadBackup(_) | StoreError::OtherKind { .. } => {
                Self::field("file", sentence(&error))
            }
            StoreError::Folder { .. }
            | StoreError::Exists(_)
            | StoreError::ReadOnlyFolder(_)
            | StoreError::InUse(_)
            | StoreError::Gone(_)
            | StoreError::NotALedger(_)
            | StoreError::Damaged(_)
            | StoreError::Untrusted { .. }
            | StoreError::Removed
            | StoreError::Replaced
            | StoreError::Overwritten
            | StoreError::DiskFull
            | StoreError::Locked
            | StoreError::ReadOnly
            | StoreError::CannotOpen
            | StoreError::Disk(_)
            | StoreError::Newer => Self::Unwritable(sentence(&error)),
            StoreError::Sqlite(_)
            | StoreError::Migration(_)
            | StoreError::Json(_)
            | StoreError::Time(_)
            | StoreError::Account(_) => Self::Internal,
        }
    }
}

/// What the store says, as a sentence of its own.
pub fn sentence(error: &StoreError) -> String {
    let said = error.to_string();
    let mut letters = said.chars();
    let first: String = letters
        .next()
        .into_iter()
        .flat_map(char::to_uppercase)
        .collect();
    let end = if said.ends_with(['.', '!']) { "" } else { "." };
    format!("{first}{}{end}", letters.as_str())
}

impl From<WriteError<ApiError>> for ApiError {
    fn from(error: WriteError<ApiError>) -> Self {
        match error {
            WriteError::Asked(error) => error,
            WriteError::Refused(refusal) => refusal.into(),
            WriteError::KeyReused => Self::Conflict(error.to_string()),
            WriteError::Store(error) => error.into(),
        }
    }
}

impl From<Vec<FieldError>> for ApiError {
    fn from(errors: Vec<FieldError>) -> Self {
        Self::Fields(errors)
    }
}

impl From<PutError> for ApiError {
    fn from(error: PutError) -> Self {
        match error {
            PutError::Outdated => Self::Outdated(Vec::new()),
            PutError::Store(error) => error.into(),
        }
    }
}

//! Why an edit is refused.

use crate::session::DocumentError;

/// Why an edit was refused. The document is as it was.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
#[expect(missing_docs, reason = "its message says what each is")]
pub enum EditError {
    #[error("{what} is not in the session any more")]
    Gone { what: String },
    #[error("the sample rate of a session is fixed when it is made")]
    SampleRateFixed,
    #[error("pattern {name} is played by section {section}; change or remove the section first")]
    PatternInUse { name: String, section: String },
    #[error("{name} is not a {wanted}")]
    WrongKind { name: String, wanted: &'static str },
    #[error("it was made another kind meanwhile: {name}")]
    OtherKind { name: &'static str },
    #[error("nothing was chosen")]
    Nothing,
    #[error("{name} follows {leader}; change the hits there, or set {name} free first")]
    Follows { name: String, leader: String },
    #[error("there are no hits to do this to")]
    NoHits,
    #[error("the take has no notes")]
    EmptyTake,
    #[error(transparent)]
    Document(#[from] DocumentError),
}

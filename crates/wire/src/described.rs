//! What the published schema of the document describes, for descriptions of the interface to refer to.

use utoipa::openapi::{Ref, RefOr, Schema};
use utoipa::{PartialSchema, ToSchema};

macro_rules! described {
    ($($name:ident),+ $(,)?) => {
        /// Every name of the published schema that the interface refers to.
        pub const NAMES: &[&str] = &[$(stringify!($name)),+];
        $(
            #[doc = concat!("`", stringify!($name), "` of the published schema.")]
            #[derive(Debug)]
            pub struct $name;

            impl PartialSchema for $name {
                fn schema() -> RefOr<Schema> {
                    Ref::new(concat!("/api/session.schema.json#/$defs/", stringify!($name))).into()
                }
            }

            impl ToSchema for $name {}
        )+
    };
}

described! {
    AssetRef, Edit, Family, Figures, Made, NamedPitch, Patch, Processor, Session, StemSpec, StripKind, Take, TakeSound, TemplateKeeps, Warning,
}

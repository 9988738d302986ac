//! What screens and checks know of a processor's values.

use serde::Serialize;

/// How a value runs from its least to its most.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
#[serde(rename_all = "snake_case")]
pub enum Scale {
    /// Even steps.
    Even,
    /// Even ratios, as of frequencies.
    Ratio,
}

/// One value of a processor.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Param {
    /// The field in the settings.
    pub name: &'static str,
    /// The word on screens.
    pub label: &'static str,
    /// Its unit, empty for plain numbers.
    pub unit: &'static str,
    /// The least that is allowed.
    pub min: f64,
    /// The most that is allowed.
    pub max: f64,
    /// Where it begins.
    pub default: f64,
    /// How it moves under the pointer.
    pub scale: Scale,
}

/// One choice of a processor.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Choice {
    /// The field in the settings.
    pub name: &'static str,
    /// The word on screens.
    pub label: &'static str,
    /// Value in the settings, word on screens.
    pub options: Vec<(&'static str, &'static str)>,
}

/// Settings of a processor: its numbers with word, unit, range and default, then its choices.
macro_rules! settings {
    (
        $(#[$doc:meta])*
        $name:ident {
            $($(#[$field_doc:meta])* $field:ident: $label:literal, $unit:literal, $scale:ident $min:literal to $max:literal, $default:literal;)*
        }
        choices { $($(#[$choice_doc:meta])* $choice:ident: $choice_label:literal, $type:ident = $first:ident;)* }
    ) => {
        $(#[$doc])*
        #[derive(Debug, Clone, PartialEq, serde::Serialize, serde::Deserialize)]
        #[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
        #[serde(default)]
        pub struct $name {
            $(
                #[doc = concat!($label, ": ", $min, " to ", $max, " ", $unit, ".")]
                $(#[$field_doc])*
                pub $field: f64,
            )*
            $(
                #[doc = concat!($choice_label, ".")]
                $(#[$choice_doc])*
                pub $choice: $type,
            )*
        }

        impl Default for $name {
            fn default() -> Self {
                $name { $($field: $default,)* $($choice: $type::$first,)* }
            }
        }

        impl lane_units::Words for $name {
            fn write(&self, words: &mut Vec<f64>) {
                words.extend([$(self.$field,)* $(f64::from(self.$choice as u8),)*]);
            }

            fn read(words: &mut lane_units::Reader) -> Option<Self> {
                Some($name {
                    $($field: words.number()?,)*
                    $($choice: *$type::ALL.get(words.count()?)?,)*
                })
            }
        }

        impl $name {
            /// What is allowed of each value, in the order of the fields.
            pub const PARAMS: &'static [$crate::parts::Param] = &[
                $($crate::parts::Param {
                    name: stringify!($field),
                    label: $label,
                    unit: $unit,
                    min: $min,
                    max: $max,
                    default: $default,
                    scale: $crate::parts::Scale::$scale,
                },)*
            ];

            /// Its values with what is allowed of them.
            pub fn values(&self) -> Vec<(&'static $crate::parts::Param, f64)> {
                Self::PARAMS.iter().zip([$(self.$field),*]).collect()
            }

            /// Sets a value by its name in the declaration; false where there is none of that name.
            pub fn set(&mut self, name: &str, value: f64) -> bool {
                match name {
                    $(stringify!($field) => self.$field = value,)*
                    _ => return false,
                }
                true
            }

            /// Its choices, for screens.
            pub fn choices() -> Vec<$crate::parts::Choice> {
                vec![$($crate::parts::Choice {
                    name: stringify!($choice),
                    label: $choice_label,
                    options: $type::OPTIONS.to_vec(),
                },)*]
            }
        }
    };
}

/// A choice between a few: each variant with its value in the document and its word on screens.
macro_rules! options {
    ($(#[$doc:meta])* $name:ident { $($(#[$variant_doc:meta])* $variant:ident: $value:literal, $label:literal;)* }) => {
        $(#[$doc])*
        #[derive(Debug, Clone, Copy, PartialEq, Eq, serde::Serialize, serde::Deserialize)]
        #[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
        pub enum $name {
            $(
                #[doc = concat!($label, ".")]
                $(#[$variant_doc])*
                #[serde(rename = $value)]
                $variant,
            )*
        }

        impl $name {
            /// All of them, in the order of [`Self::OPTIONS`].
            pub const ALL: &'static [$name] = &[$($name::$variant),*];

            /// Value in the document, word on screens.
            pub const OPTIONS: &'static [(&'static str, &'static str)] = &[$(($value, $label)),*];
        }
    };
}

pub(crate) use {options, settings};

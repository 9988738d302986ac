//! Rows of answers as types: each field from the column of its name.

/// Reads a type from a row; fields behind `;` are types of several columns.
macro_rules! row {
    ($type:ident { $($field:ident),+ $(; $($rows:ident),+)? }) => {
        impl<'r> sqlx::FromRow<'r, sqlx::postgres::PgRow> for $type {
            fn from_row(row: &'r sqlx::postgres::PgRow) -> Result<Self, sqlx::Error> {
                Ok($type {
                    $($field: sqlx::Row::try_get(row, stringify!($field))?,)+
                    $($($rows: sqlx::FromRow::from_row(row)?,)+)?
                })
            }
        }
    };
}
pub(crate) use row;

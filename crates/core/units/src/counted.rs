//! Numbers of things in words.

use std::fmt::Display;

/// "1 bar", "3 bars".
pub fn counted<N: Display + PartialEq + From<u8>>(count: N, one: &str) -> String {
    let s = if count == N::from(1) { "" } else { "s" };
    format!("{count} {one}{s}")
}

#[cfg(test)]
mod tests {
    use super::counted;
    use rstest::rstest;

    #[rstest]
    #[case(0.0, "0 samples")]
    #[case(1.0, "1 sample")]
    #[case(1.5, "1.5 samples")]
    #[case(240.0, "240 samples")]
    fn only_one_is_one(#[case] count: f64, #[case] said: &str) {
        assert_eq!(counted(count, "sample"), said);
    }

    #[test]
    fn whole_numbers_too() {
        assert_eq!([counted(1_usize, "hit"), counted(2_usize, "hit")], ["1 hit", "2 hits"]);
        assert_eq!([counted(1_u32, "bar"), counted(-1_i32, "sample")], ["1 bar", "-1 samples"]);
    }
}

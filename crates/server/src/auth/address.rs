//! E-mail addresses.

/// Bytes at most (RFC 5321, 4.5.3.1.3).
const MAX_BYTES: usize = 254;

/// Whether something looks like an e-mail address: atoms at both sides of the sign (RFC 5322, 3.2.3), letters of any script
/// (RFC 6531). No quoted names, no comments, no literals of networks.
pub fn is_address(text: &str) -> bool {
    let Some((name, host)) = text.split_once('@') else { return false };
    let letter = |c: char| c.is_alphanumeric();
    let atoms = |part: &str, signs: &str| {
        part.split('.').all(|atom| !atom.is_empty() && atom.chars().all(|c| letter(c) || signs.contains(c)))
    };
    text.len() <= MAX_BYTES && atoms(name, "!#$%&'*+-/=?^_`{|}~") && atoms(host, "-")
}

#[cfg(test)]
mod tests {
    use super::is_address;
    use rstest::rstest;

    #[rstest]
    #[case("anna@example.invalid", true)]
    #[case("anna.b+beats_2@mail.example.invalid", true)]
    #[case("zoë@bücher.invalid", true)]
    #[case("o'neil@localhost", true)]
    #[case("", false)]
    #[case("anna", false)]
    #[case("@example.invalid", false)]
    #[case("anna@", false)]
    #[case("anna@@example.invalid", false)]
    #[case("anna b@example.invalid", false)]
    #[case("<b>anna</b>@example.invalid", false)]
    #[case("anna@example.invalid<script>", false)]
    #[case("anna@exa\u{0}mple.invalid", false)]
    #[case("anna..b@example.invalid", false)]
    #[case("\"anna\"@example.invalid", false)]
    fn addresses_are_told_from_what_is_none(#[case] text: &str, #[case] is: bool) {
        assert_eq!(is_address(text), is);
    }

    #[test]
    fn none_is_longer_than_mail_allows() {
        let host = "a".repeat(63);
        assert!(is_address(&format!("b@{host}")) && !is_address(&format!("{}@{host}", "b".repeat(200))));
    }
}

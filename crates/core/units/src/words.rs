//! Values as plain numbers, for what goes to the audio thread: nothing is parsed there, and reading allocates nothing.

/// A value that can be written as 64-bit floats and read again. Counts and frames up to 2^53 are exact.
pub trait Words: Sized {
    /// Appends its numbers.
    fn write(&self, words: &mut Vec<f64>);

    /// Takes its numbers; `None` where they are not whole.
    fn read(words: &mut Reader) -> Option<Self>;
}

/// Reads numbers one after the other.
#[derive(Debug, Clone)]
pub struct Reader<'a>(&'a [f64]);

impl<'a> Reader<'a> {
    /// Reads from the first.
    pub fn new(words: &'a [f64]) -> Self {
        Reader(words)
    }

    /// Numbers that are left.
    pub fn left(&self) -> usize {
        self.0.len()
    }

    /// The next number.
    pub fn number(&mut self) -> Option<f64> {
        let (first, rest) = self.0.split_first()?;
        self.0 = rest;
        Some(*first)
    }

    /// A whole number that is not negative.
    pub fn count(&mut self) -> Option<usize> {
        self.number().map(|x| x as usize)
    }

    /// The next as yes or no.
    pub fn flag(&mut self) -> Option<bool> {
        self.number().map(|x| x != 0.0)
    }

    /// The next few numbers.
    pub fn array<const N: usize>(&mut self) -> Option<[f64; N]> {
        let (first, rest) = self.0.split_first_chunk()?;
        self.0 = rest;
        Some(*first)
    }

    /// The next so many numbers.
    pub fn take(&mut self, count: usize) -> Option<Reader<'a>> {
        let (first, rest) = self.0.split_at_checked(count)?;
        self.0 = rest;
        Some(Reader(first))
    }
}

//! Seeded random numbers: the same seed gives the same numbers on every machine.

/// Source: SplitMix64 after Steele, Lea and Flood, "Fast Splittable Pseudorandom Number Generators", 2014.
#[derive(Debug, Clone)]
pub struct Dice(u64);

impl Dice {
    /// * `parts` – what the numbers depend on, in order.
    pub fn new(parts: &[u64]) -> Self {
        parts.iter().fold(Dice(0x5EED), |dice, part| {
            let mut next = Dice(dice.0 ^ part.wrapping_mul(0x9E37_79B9_7F4A_7C15));
            Dice(next.roll())
        })
    }

    /// The next 64 bits.
    pub fn roll(&mut self) -> u64 {
        self.0 = self.0.wrapping_add(0x9E37_79B9_7F4A_7C15);
        let mut z = self.0;
        z = (z ^ (z >> 30)).wrapping_mul(0xBF58_476D_1CE4_E5B9);
        z = (z ^ (z >> 27)).wrapping_mul(0x94D0_49BB_1331_11EB);
        z ^ (z >> 31)
    }

    /// Even over 0 to below 1.
    pub fn unit(&mut self) -> f64 {
        (self.roll() >> 11) as f64 / (1_u64 << 53) as f64
    }

    /// Even over -1 to below 1.
    pub fn spread(&mut self) -> f64 {
        2.0 * self.unit() - 1.0
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_same_parts_give_the_same_numbers_and_others_give_others() {
        let first = |parts: &[u64]| Dice::new(parts).roll();
        assert_eq!(first(&[1, 2]), first(&[1, 2]));
        assert_ne!(first(&[1, 2]), first(&[2, 1]));
        assert_ne!(first(&[1, 2]), first(&[1, 3]));
    }

    #[test]
    fn numbers_are_even() {
        let mut dice = Dice::new(&[7]);
        let mut thirds = [0; 3];
        (0..30_000).for_each(|_| thirds[(dice.unit() * 3.0) as usize] += 1);
        assert!(thirds.iter().all(|n| (9_700..10_300).contains(n)), "{thirds:?}");
        assert!((0..1000).map(|_| dice.spread()).all(|x| (-1.0..1.0).contains(&x)));
    }
}

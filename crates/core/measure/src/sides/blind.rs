//! Rounds in which nobody is told what is heard.

use lane_units::Dice;

/// Sides in an order that a seed decides, each order as likely as the next.
///
/// * `round` – from 0; every round of a seed has an order of its own.
pub fn order(seed: u64, round: u32, sides: usize) -> Vec<usize> {
    let mut dice = Dice::new(&[seed, u64::from(round)]);
    let mut order: Vec<usize> = (0..sides).collect();
    // Fisher and Yates: each place gets one of those that are left.
    for left in (2..=sides).rev() {
        order.swap(left - 1, below(&mut dice, left));
    }
    order
}

/// Which of two is heard as the unknown one in a round, 0 or 1.
pub fn which_of_two(seed: u64, round: u32) -> usize {
    below(&mut Dice::new(&[seed, u64::from(round), 2]), 2)
}

/// A whole number from 0, each as likely as the next.
fn below(dice: &mut Dice, count: usize) -> usize {
    ((dice.unit() * count as f64) as usize).min(count - 1)
}

/// How likely it is that somebody who hears no difference between two sides is right at least so often, in 0 to 1: the upper
/// end of a binomial distribution with even odds.
pub fn chance_of(right: u32, rounds: u32) -> f64 {
    if right == 0 {
        return 1.0;
    }
    // Logarithms, so that no number of rounds is too large.
    let ln_choose = |k: u32| {
        let ln_factorial = |n: u32| libm::lgamma(f64::from(n) + 1.0);
        ln_factorial(rounds) - ln_factorial(k) - ln_factorial(rounds - k)
    };
    let ln_half = f64::from(rounds) * std::f64::consts::LN_2;
    let sum: f64 = (right..=rounds).map(|k| libm::exp(ln_choose(k) - ln_half)).sum();
    sum.min(1.0)
}

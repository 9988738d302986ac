//! Windows.

/// Modified Bessel function of the first kind and order zero, by its power series.
pub fn bessel_i0(x: f64) -> f64 {
    let (mut sum, mut term, mut k) = (1.0, 1.0, 1.0);
    while term > 1e-18 * sum {
        let half = x / (2.0 * k);
        term *= half * half;
        sum += term;
        k += 1.0;
    }
    sum
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn values_of_the_tables() {
        // Abramowitz and Stegun, table 9.8.
        assert_eq!(bessel_i0(0.0), 1.0);
        assert!((bessel_i0(1.0) - 1.266_065_877_752_008).abs() < 1e-14);
        assert!((bessel_i0(10.0) / 2_815.716_628_466_254 - 1.0).abs() < 1e-14);
    }
}

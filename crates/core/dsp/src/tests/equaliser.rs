use super::*;

fn equaliser(band: Band) -> Equaliser {
    Equaliser { bands: vec![band] }
}

/// The analogue models, written out in s anew.
pub(super) fn analogue_db(band: &Band, hz: f64) -> f64 {
    let (w, a, q) = (hz / band.freq_hz, 10_f64.powf(band.gain_db / 40.0), band.q);
    let root = a.sqrt();
    // Numerator and denominator as (s², s, 1).
    let (n, d) = match band.shape {
        Shape::Bell => ([1.0, a / q, 1.0], [1.0, 1.0 / (a * q), 1.0]),
        Shape::LowShelf => ([a, a * root / q, a * a], [a, root / q, 1.0]),
        Shape::HighShelf => ([a * a, a * root / q, a], [1.0, root / q, a]),
        Shape::LowPass => ([0.0, 0.0, 1.0], [1.0, 1.0 / q, 1.0]),
        Shape::HighPass => ([1.0, 0.0, 0.0], [1.0, 1.0 / q, 1.0]),
        Shape::Notch => ([1.0, 0.0, 1.0], [1.0, 1.0 / q, 1.0]),
    };
    let magnitude = |c: [f64; 3]| ((c[2] - c[0] * w * w).powi(2) + (c[1] * w).powi(2)).sqrt();
    gain_to_db(magnitude(n) / magnitude(d))
}

#[rstest]
fn bells_and_shelves_are_as_the_analogue_ones(
    #[values(Shape::Bell, Shape::LowShelf, Shape::HighShelf)] shape: Shape,
    #[values(40.0, 300.0, 2000.0, 8000.0, 14_000.0)] freq_hz: f64,
    #[values(-12.0, -4.0, 6.0, 12.0)] gain_db: f64,
    #[values(0.5, 0.71, 2.5)] q: f64,
) {
    // A shelf with a higher Q has a bump of its own.
    let q = if shape == Shape::Bell { q } else { q.min(1.0) };
    let band = Band { shape, freq_hz, gain_db, q, ..Band::default() };
    let freqs: Vec<f64> = (0..200).map(|k| 20.0 * 800_f64.powf(f64::from(k) / 199.0)).collect();
    let found = equaliser(band.clone()).response_db(&freqs, RATE);
    let off = |(hz, db): (&f64, f64)| (db - analogue_db(&band, *hz)).abs();
    let worst = freqs.iter().zip(found).map(off).fold(0.0, f64::max);
    assert!(worst < 0.5, "{worst} dB off");
}

#[rstest]
#[case::gentle(Slope::Db6, 6.0)]
#[case::usual(Slope::Db12, 12.0)]
#[case::odd(Slope::Db18, 18.0)]
#[case::steep(Slope::Db24, 24.0)]
#[case::steeper(Slope::Db36, 36.0)]
#[case::steepest(Slope::Db48, 48.0)]
fn passes_fall_by_their_slope(#[case] slope: Slope, #[case] per_octave: f64) {
    for (shape, corner, far, farther) in
        [(Shape::HighPass, 800.0, 200.0, 100.0), (Shape::LowPass, 200.0, 800.0, 1600.0)]
    {
        let band = Band { shape, slope, freq_hz: corner, q: std::f64::consts::FRAC_1_SQRT_2, ..Band::default() };
        let db = equaliser(band).response_db(&[corner, far, farther], RATE);
        assert!((db[0] + 3.01).abs() < 0.1, "{shape:?} {} at its corner", db[0]);
        assert!((db[1] - db[2] - per_octave).abs() < 0.5, "{shape:?} {} an octave", db[1] - db[2]);
    }
}

#[test]
fn the_curve_on_the_screen_is_what_a_sine_meets() {
    let Settings::Equaliser(mut equaliser) = busy(&Settings::Equaliser(Equaliser::default())) else { unreachable!() };
    equaliser.bands.retain(|b| !b.moves());
    let settings = Settings::Equaliser(equaliser.clone());
    let freqs = [50.0, 200.0, 1000.0, 3000.0, 9000.0, 16_000.0];
    for (hz, db) in freqs.iter().zip(equaliser.response_db(&freqs, RATE)) {
        let found = gain_to_db(amplitude(&settled(settings.clone(), *hz, -20.0), *hz as usize)) + 20.0;
        assert!((found - db).abs() < 0.01, "{found} dB at {hz} Hz, drawn as {db}");
    }
}

#[test]
fn bands_at_rest_or_switched_off_are_transparent() {
    let rest = [Shape::Bell, Shape::LowShelf, Shape::HighShelf].map(|shape| Band { shape, ..Band::default() });
    let off = Band { shape: Shape::HighPass, switch: Switch::Off, ..Band::default() };
    let settings = Settings::Equaliser(Equaliser { bands: rest.into_iter().chain([off]).collect() });
    let sound = music(4000);
    assert_eq!(run(&mut slot_of(&plan(settings), 128, RATE), &sound, None, 128), sound);
}

#[test]
fn a_notch_takes_its_frequency_out() {
    let band = Band { shape: Shape::Notch, freq_hz: 1000.0, q: 4.0, ..Band::default() };
    let db = equaliser(band).response_db(&[500.0, 1000.0, 2000.0], RATE);
    assert!(db[1] < -80.0 && db[0].abs() < 0.5 && db[2].abs() < 0.5, "{db:?}");
}

fn moving(shape: Shape, freq_hz: f64, range_db: f64) -> Settings {
    Settings::Equaliser(equaliser(Band { shape, freq_hz, range_db, threshold_dbfs: -30.0, ..Band::default() }))
}

#[rstest]
#[case::no_further_than_its_range(-6.0, -6.0)]
#[case::as_far_as_the_level(-20.0, -10.0)]
#[case::up(4.0, 4.0)]
fn a_band_moves_as_far_as_asked(
    #[case] range_db: f64,
    #[case] expected_db: f64,
    #[values((Shape::Bell, 100.0, 100.0), (Shape::Bell, 3000.0, 3000.0), (Shape::LowShelf, 400.0, 50.0), (Shape::HighShelf, 1000.0, 7900.0))]
    (shape, corner, tone): (Shape, f64, f64),
) {
    let out = settled(moving(shape, corner, range_db), tone, -20.0);
    let found = gain_to_db(amplitude(&out, tone as usize)) + 20.0;
    assert!((found - expected_db).abs() < 0.2, "{found} dB, expected {expected_db}");
}

#[rstest]
fn a_moving_band_at_rest_is_transparent(#[values(Shape::Bell, Shape::LowShelf, Shape::HighShelf)] shape: Shape) {
    let sound: Vec<Frame> = music(6000).iter().map(|f| f.map(|x| 0.01 * x)).collect();
    let out = run(&mut slot_of(&plan(moving(shape, 800.0, -12.0)), 128, RATE), &sound, None, 128);
    assert_eq!(out, sound);
}

#[test]
fn a_key_moves_a_band_and_leaves_the_rest_of_the_spectrum() {
    let settings = moving(Shape::LowShelf, 120.0, -12.0);
    let tone = |hz: f64| -> Vec<Frame> {
        (0..60_000).map(|n| [0.1 * (std::f64::consts::TAU * hz * f64::from(n) / 48_000.0).sin(); 2]).collect()
    };
    let ducked = |hz: f64, key: &[Frame]| {
        let out = run(&mut slot_of(&plan(settings.clone()), 480, RATE), &tone(hz), Some(key), 480);
        gain_to_db(amplitude(&out[12_000..], hz as usize)) + 20.0
    };
    assert!(ducked(30.0, &tone(60.0)) < -9.0, "{}", ducked(30.0, &tone(60.0)));
    assert!(ducked(2000.0, &tone(60.0)).abs() < 0.5, "outside the band");
    let out = run(&mut slot_of(&plan(settings.clone()), 480, RATE), &tone(30.0), Some(&vec![[0.0; 2]; 60_000]), 480);
    assert_eq!(out, tone(30.0), "a silent key changes nothing");
}

#[test]
fn the_read_out_of_a_moving_band_is_what_it_takes_away() {
    let mut slot = slot_of(&plan(moving(Shape::Bell, 1000.0, -6.0)), 480, RATE);
    let sound: Vec<Frame> = (0..48_000).map(|n| [(f64::from(n) * std::f64::consts::TAU / 48.0).sin(); 2]).collect();
    run(&mut slot, &sound, None, 480);
    assert!((slot.take_reduction_db() - 6.0).abs() < 0.01);
}

/// A bell, a shelf and a high-pass.
fn three_bands() -> Equaliser {
    let band = |shape, freq_hz, gain_db| Band { shape, freq_hz, gain_db, ..Band::default() };
    Equaliser {
        bands: vec![
            band(Shape::Bell, 400.0, -12.0),
            band(Shape::HighShelf, 3000.0, 10.0),
            Band { slope: Slope::Db48, ..band(Shape::HighPass, 80.0, 0.0) },
        ],
    }
}

#[rstest]
fn part_of_an_equaliser_is_part_of_its_gains(
    #[values(5.0, 25.0, 50.0, 75.0, 95.0)] mix_percent: f64,
    #[values(30.0, 60.0, 80.0, 120.0, 400.0, 1000.0, 3000.0, 9000.0)] hz: f64,
) {
    let whole = three_bands();
    let part = mix_percent / 100.0;
    let less = |b: &Band| Band { gain_db: b.gain_db * part, ..b.clone() };
    let said = Equaliser { bands: whole.bands.iter().map(less).collect() }.response_db(&[hz], RATE)[0];
    let half = SlotPlan { mix_percent, ..plan(Settings::Equaliser(whole)) };
    let heard = gain_to_db(amplitude(&settled_as(&half, hz, -20.0), hz as usize)) + 20.0;
    assert!((heard - said).abs() < 0.01, "{heard} dB, the curve says {said}");
}

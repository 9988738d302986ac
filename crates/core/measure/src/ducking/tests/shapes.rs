//! Beat shapes as duckers: read as they are heard, set to a depth.

use super::*;
use lane_document::edit::{NewBus, SetProcessor};
use lane_dsp::beat_shape::ShapePoint;

pub fn shape() -> BeatShape {
    let point = |at_percent, down_percent| ShapePoint { at_percent, down_percent, bend_percent: 0.0 };
    let mut shape = BeatShape { points: vec![point(0.0, 100.0), point(60.0, 0.0)], ..BeatShape::default() };
    shape.base.depth_db = 9.0;
    shape
}

#[rstest]
fn a_shape_is_read_as_it_is_heard(#[values(false, true)] keyed: bool, #[values(false, true)] late: bool) {
    let (mut scene, kick, bass) = pair();
    if late {
        scene.add(bass, Settings::Limiter(Limiter { ceiling_dbtp: 0.0, ..Limiter::default() }), None);
    }
    let ducker = scene.add(bass, Settings::BeatShape(shape()), keyed.then_some(kick));
    let run = scene.run(Some(ducker));
    let found = run.read().into_iter().find(|d| d.processor == ducker).unwrap();
    assert!(found.keyed && found.sounds);
    assert_eq!(found.figures.hits.iter().map(|h| h.at).collect::<Vec<_>>(), BEATS);
    for hit in &found.figures.hits {
        assert!((hit.depth_db - 9.0).abs() < 0.1, "{hit:?}");
        // 9 dB in 300 ms: 1 dB is left after 267.
        assert!((hit.back_ms.unwrap() - 267.0).abs() < 1.5, "{hit:?}");
        assert!(hit.full_ms.abs() < 1.5, "{hit:?}");
    }
    // The tone says the same.
    let waves = run.waves(ducker, usize::MAX).unwrap();
    let most = |of: &[f32], at: usize| of[at..at + 30].iter().fold(0.0, |m: f32, x| m.max(*x));
    for at in (0..waves.before.len() - 30).step_by(11) {
        let span = &waves.reduction_db[at..at + 30];
        let (least, deepest) = span.iter().fold((f32::MAX, 0.0_f32), |(a, b), x| (a.min(*x), b.max(*x)));
        let heard = 20.0 * (most(&waves.before, at) / most(&waves.behind, at)).log10();
        assert!((least - 0.2..=deepest + 0.2).contains(&heard), "at {at}: heard {heard}, read {least} to {deepest}");
    }
    assert_eq!(waves.key.is_empty(), !keyed);
}

#[test]
fn a_shape_by_a_bus_begins_with_what_is_heard_of_it() {
    let (mut scene, kick, bass) = pair();
    scene.edit(Edit::NewBus(NewBus { name: "Drums".into(), feeders: vec![kick] }));
    let bus = scene.session.strips.iter().find(|s| s.name.as_str() == "Drums").unwrap().id;
    let ducker = scene.add(bass, Settings::BeatShape(shape()), Some(bus));
    let found = scene.figures(ducker);
    assert_eq!(found.hits.len(), 4, "{found:?}");
    assert!(found.hits.iter().all(|h| (h.depth_db - 9.0).abs() < 0.2), "{found:?}");
}

#[rstest]
fn the_depth_of_a_shape_is_what_it_says(#[values(3.0, 6.0, 20.0)] db: f64, #[values(false, true)] keyed: bool) {
    let (mut scene, kick, bass) = pair();
    let mut half = shape();
    half.points[0].down_percent = 50.0;
    let ducker = scene.add(bass, Settings::BeatShape(half), keyed.then_some(kick));
    let found = solve(&scene.run(Some(ducker)), ducker, Goal::Depth { db }).unwrap();
    assert!(found.short.is_none() && (found.figures.depth_db - db).abs() < 0.1, "{found:?}");
    scene.set(ducker, found.settings.clone());
    let again = scene.figures(ducker);
    assert!((again.depth_db - db).abs() < 0.1, "{again:?}");
    assert!(
        again.hits.iter().zip(&found.figures.hits).all(|(a, b)| (a.back_ms.unwrap() - b.back_ms.unwrap()).abs() < 0.5)
    );
    let too_much = solve(&scene.run(Some(ducker)), ducker, Goal::Depth { db: 50.0 }).unwrap();
    assert!(too_much.short.unwrap().contains("30.0 dB is as deep"));
}

#[test]
fn a_floor_leaves_ghost_notes_out_and_depth_goes_by_velocity() {
    let (mut scene, kick, bass) = pair();
    let voice = scene.session.voices[0].id;
    let part = scene.session.parts.iter_mut().find(|p| p.voice == voice).unwrap();
    let mut hits = part.hits.clone();
    for (hit, velocity) in hits.iter_mut().zip([127, 30, 64, 30]) {
        hit.velocity = velocity;
    }
    part.hits = hits;
    let mut shape = shape();
    shape.base.velocity_percent = 100.0;
    let ducker = scene.add(bass, Settings::BeatShape(shape), Some(kick));
    let key = Key { least_velocity: 31, even_percent: 100.0, ..Key::new(kick) };
    let change = ProcessorChange::Key(Some(key));
    scene.edit(Edit::SetProcessor(SetProcessor { strip: bass, processor: ducker, change }));
    let found = scene.figures(ducker);
    let read: Vec<(u32, f64)> = found.hits.iter().map(|hit| (hit.at, hit.depth_db)).collect();
    let [(0, hard), (second, soft)] = read.as_slice() else { panic!("{read:?}") };
    assert!(*second == 2 * BEAT && (hard - 9.0).abs() < 0.1 && (soft - 9.0 * 64.0 / 127.0).abs() < 0.1, "{read:?}");
}

//! Audio files as they come: whole, odd, broken.

use lane_document::session::Depth;
use lane_files::wav::{encode_frames, header};
use lane_files::{Converted, FileError, convert, convert_while};
use rstest::rstest;
use std::fs::File;
use std::io::{Seek, SeekFrom, Write};

fn file(bytes: &[u8]) -> File {
    let mut file = tempfile::tempfile().unwrap();
    file.write_all(bytes).unwrap();
    file.seek(SeekFrom::Start(0)).unwrap();
    file
}

fn sine(hz: f64, rate: u32, frames: usize) -> Vec<[f64; 2]> {
    (0..frames)
        .map(|n| {
            let x = 0.5 * (std::f64::consts::TAU * hz * n as f64 / f64::from(rate)).sin();
            [x, x * 0.5]
        })
        .collect()
}

/// A WAV file with any header.
fn wav(tag: u16, bits: u16, channels: u16, rate: u32, data: &[u8]) -> Vec<u8> {
    let block = channels * (bits / 8);
    let mut out = b"RIFF".to_vec();
    out.extend((36 + data.len() as u32).to_le_bytes());
    out.extend(b"WAVEfmt \x10\0\0\0");
    out.extend(tag.to_le_bytes());
    out.extend(channels.to_le_bytes());
    out.extend(rate.to_le_bytes());
    out.extend(rate.wrapping_mul(u32::from(block)).to_le_bytes());
    out.extend(block.to_le_bytes());
    out.extend(bits.to_le_bytes());
    out.extend(b"data");
    out.extend((data.len() as u32).to_le_bytes());
    out.extend(data);
    out
}

fn stem(depth: Depth, rate: u32, frames: &[[f64; 2]]) -> Vec<u8> {
    let mut out = header(depth, rate, frames.len() as u64).to_vec();
    encode_frames(depth, frames, &mut out);
    out
}

fn converted(bytes: &[u8], rate: u32) -> Result<Converted, FileError> {
    convert(file(bytes), rate)
}

#[rstest]
#[case::int24(Depth::Int24, 1e-6)]
#[case::float(Depth::Float32, 1e-7)]
fn what_is_written_reads_back(#[case] depth: Depth, #[case] within: f64) {
    let frames = sine(440.0, 48_000, 5000);
    let audio = converted(&stem(depth, 48_000, &frames), 48_000).unwrap().audio().unwrap();
    assert_eq!((audio.channels(), audio.frames()), (2, 5000));
    let worst = frames
        .iter()
        .enumerate()
        .map(|(n, f)| (f64::from(audio.frame(n as isize)[1]) - f[1]).abs())
        .fold(0.0, f64::max);
    assert!(worst < within, "{worst}");
}

#[rstest]
#[case::as_it_is(48_000)]
#[case::converted(44_100)]
fn a_file_that_nobody_waits_for_any_more_is_read_no_further(#[case] rate: u32) {
    let asked = std::cell::Cell::new(0);
    let bytes = stem(Depth::Float32, rate, &sine(440.0, rate, 400_000));
    let called_off = convert_while(file(&bytes), 48_000, &|| asked.replace(asked.get() + 1) < 3);
    assert!(matches!(called_off, Err(FileError::CalledOff)));
    assert_eq!(asked.get(), 4);
}

#[rstest]
#[case::cd(44_100, 48_000)]
#[case::high(192_000, 48_000)]
#[case::low(8_000, 44_100)]
#[case::down(96_000, 44_100)]
#[case::slightly_down(48_000, 44_100)]
fn other_rates_are_converted_in_place_and_length(#[case] from: u32, #[case] to: u32) {
    let source = sine(1000.0, from, from as usize / 2);
    let audio = converted(&stem(Depth::Float32, from, &source), to).unwrap().audio().unwrap();
    assert_eq!(audio.frames(), to as usize / 2);
    let expected = sine(1000.0, to, to as usize / 2);
    let (mut error, mut signal) = (0.0, 0.0);
    for (n, exact) in expected.iter().enumerate().take(to as usize * 4 / 10).skip(to as usize / 10) {
        let got = f64::from(audio.frame(n as isize)[0]);
        error += (got - exact[0]).powi(2);
        signal += exact[0].powi(2);
    }
    assert!(10.0 * (signal / error).log10() > 90.0, "{:.1} dB", 10.0 * (signal / error).log10());
}

#[test]
fn a_file_shorter_than_one_chunk_keeps_its_length() {
    let audio = converted(&stem(Depth::Float32, 44_100, &sine(1000.0, 44_100, 441)), 48_000).unwrap();
    assert_eq!(audio.frames, 480);
}

#[test]
fn equal_channels_become_mono_and_the_same_sound_the_same_address() {
    let frames: Vec<_> = sine(440.0, 48_000, 1000).iter().map(|f| [f[0]; 2]).collect();
    let stereo = converted(&stem(Depth::Float32, 48_000, &frames), 48_000).unwrap();
    let mono: Vec<u8> = frames.iter().flat_map(|f| (f[0] as f32).to_le_bytes()).collect();
    let single = converted(&wav(3, 32, 1, 48_000, &mono), 48_000).unwrap();
    assert_eq!((stereo.channels, &stereo.id), (1, &single.id));
}

#[rstest]
#[case::eight_bit(1, 8, &[255, 128, 0])]
#[case::sixteen(1, 16, &[0xFF, 0x7F, 0, 0, 0, 0x80])]
#[case::thirty_two(1, 32, &[0xFF, 0xFF, 0xFF, 0x7F, 0, 0, 0, 0, 0, 0, 0, 0x80])]
fn integer_formats_reach_full_scale(#[case] tag: u16, #[case] bits: u16, #[case] data: &[u8]) {
    let audio = converted(&wav(tag, bits, 1, 48_000, data), 48_000).unwrap().audio().unwrap();
    let s = audio.samples();
    assert!(s[0] > 0.99 && s[1] == 0.0 && s[2] == -1.0, "{s:?}");
}

#[test]
fn recorders_faults_are_read_through() {
    let good = wav(1, 16, 1, 48_000, &[1, 0, 2, 0, 3, 0]);
    let mut no_size = good.clone();
    no_size[40..44].fill(0);
    let mut endless = good.clone();
    endless[40..44].fill(0xFF);
    let mut cut = good.clone();
    cut.truncate(good.len() - 1);
    let mut unpadded = good[..36].to_vec();
    unpadded.extend(b"LIST\x03\0\0\0abc");
    unpadded.extend(&good[36..]);
    for (bytes, frames) in [(no_size, 3), (endless, 3), (cut, 2), (unpadded, 3)] {
        assert_eq!(converted(&bytes, 48_000).unwrap().frames, frames);
    }
    let mut long = b"RF64\xFF\xFF\xFF\xFFWAVEds64\x1C\0\0\0".to_vec();
    long.extend([0; 8]);
    long.extend(6_u64.to_le_bytes());
    long.extend([0; 12]);
    long.extend(&good[12..40]);
    long.extend([0xFF; 4]);
    long.extend(&good[44..]);
    assert_eq!(converted(&long, 48_000).unwrap().frames, 3);
}

#[rstest]
#[case::empty(vec![], "empty")]
#[case::text(b"not audio at all, just words and words and words".to_vec(), "not an audio or MIDI file")]
#[case::wrong_ending(b"\x89PNG\r\n\x1a\n and some more bytes of a picture here".to_vec(), "not an audio or MIDI file")]
#[case::no_channels(wav(1, 16, 0, 48_000, &[0; 8]), "0 channels")]
#[case::eight_channels(wav(1, 16, 8, 48_000, &[0; 32]), "8 channels")]
#[case::no_rate(wav(1, 16, 1, 0, &[0; 8]), "0 Hz")]
#[case::huge_rate(wav(1, 16, 1, 4_000_000_000, &[0; 8]), "4000000000 Hz")]
#[case::odd_format(wav(99, 16, 1, 48_000, &[0; 8]), "format 99")]
#[case::adpcm(wav(0x11, 4, 1, 48_000, &[0; 8]), "ADPCM")]
#[case::mpeg(wav(85, 16, 1, 48_000, &[0; 8]), "MPEG audio inside WAV")]
#[case::opus([&b"OggS\0\x02\0\0\0\0\0\0\0\0\x01\0\0\0\0\0\0\0\0\0\0\0\x01\x13OpusHead"[..], &[1; 40]].concat(), "holds Opus")]
#[case::bent_flac([&b"fLaC"[..], &[0x55; 200]].concat(), "begins as FLAC")]
#[case::bent_ogg([&b"OggS"[..], &[0x55; 200]].concat(), "begins as Ogg")]
#[case::no_aiff_samples(b"FORM\0\0\0\x04AIFF".to_vec(), "does not say what its samples are")]
#[case::no_samples(wav(1, 16, 1, 48_000, &[]), "no samples")]
#[case::header_only(wav(1, 16, 1, 48_000, &[])[..30].to_vec(), "damaged")]
#[case::nan(wav(3, 32, 1, 48_000, &[f32::NAN.to_le_bytes(); 4].concat()), "not numbers, the first at frame 0")]
#[case::far_over(wav(3, 32, 1, 48_000, &[0.5_f32.to_le_bytes(), 1e30_f32.to_le_bytes()].concat()), "above full scale, the first at frame 1")]
#[case::infinite(wav(3, 32, 2, 44_100, &[[0; 4], [0; 4], f32::INFINITY.to_le_bytes(), [0; 4]].concat()), "frame 1")]
fn bad_files_are_refused_with_the_reason(#[case] bytes: Vec<u8>, #[case] says: &str) {
    let message = converted(&bytes, 48_000).err().expect("refused").to_string();
    assert!(message.contains(says), "{message}");
}

#[test]
fn an_hour_is_refused_without_being_kept() {
    // A sparse file: an hour of silence in 16 bits.
    let data_bytes: u32 = 48_000 * 3600 * 2;
    let mut head = wav(1, 16, 1, 48_000, &[]);
    head[40..44].copy_from_slice(&data_bytes.to_le_bytes());
    let file = file(&head);
    file.set_len(44 + u64::from(data_bytes)).unwrap();
    assert!(matches!(convert(file, 48_000), Err(FileError::TooLong { limit_minutes: 30 })));
}

#[test]
fn any_cut_and_any_flipped_byte_is_read_or_refused_but_never_panics() {
    let good = stem(Depth::Int24, 48_000, &sine(440.0, 48_000, 64));
    for length in 0..good.len().min(100) {
        let _ = converted(&good[..length], 48_000);
    }
    for at in 0..58 {
        for bits in [0xFF, 0x80, 0x01] {
            let mut bent = good.clone();
            bent[at] ^= bits;
            let _ = converted(&bent, 48_000);
        }
    }
}

#[test]
fn the_time_reference_of_a_broadcast_file_comes_over_at_the_new_rate() {
    let mut bytes = wav(1, 16, 1, 96_000, &[0; 2000]);
    let mut chunk = vec![0; 602];
    chunk[338..346].copy_from_slice(&960_000_u64.to_le_bytes());
    let mut bext = b"bext".to_vec();
    bext.extend((chunk.len() as u32).to_le_bytes());
    bext.extend(chunk);
    let data = bytes.windows(4).position(|w| w == b"data").unwrap();
    bytes.splice(data..data, bext);
    assert_eq!(converted(&bytes, 48_000).unwrap().time_reference, Some(480_000));
    assert_eq!(converted(&wav(1, 16, 1, 48_000, &[0; 200]), 48_000).unwrap().time_reference, None);
}

#[rstest]
#[case(48_000, 96_000)]
#[case(96_000, 44_100)]
fn audio_at_hand_is_resampled_like_a_file(#[case] from: u32, #[case] to: u32) {
    let samples: Vec<f32> = sine(1000.0, from, 9600).iter().map(|f| f[0] as f32).collect();
    let audio = lane_document::session::Audio::new(1, samples).unwrap();
    let out = lane_files::resampled(&audio, from, to).unwrap();
    assert_eq!(out.frames(), (9600.0 * f64::from(to) / f64::from(from)).round() as usize);
    let expected = sine(1000.0, to, out.frames());
    let worst = (1000..out.frames() - 1000).map(|n| (f64::from(out.samples()[n]) - expected[n][0]).abs());
    assert!(worst.fold(0.0, f64::max) < 1e-4);
}

/// An AIFF or AIFF-C file of 3 frames, with an offset before its samples.
fn aiff(kind: &[u8; 4], code: Option<&[u8; 4]>, bits: u16, outer: u32, offset: u32, samples: &[u8]) -> Vec<u8> {
    let mut common = vec![0, 1, 0, 0, 0, 3];
    common.extend(bits.to_be_bytes());
    // 48,000 in 80-bit extended precision.
    common.extend([0x40, 0x0E, 0xBB, 0x80, 0, 0, 0, 0, 0, 0]);
    if let Some(code) = code {
        common.extend(code);
        common.extend([0, 0]);
    }
    let mut out = b"FORM".to_vec();
    out.extend(outer.to_be_bytes());
    out.extend(kind);
    out.extend(b"COMM");
    out.extend((common.len() as u32).to_be_bytes());
    out.extend(common);
    out.extend(b"SSND");
    out.extend((8 + offset + samples.len() as u32).to_be_bytes());
    out.extend(offset.to_be_bytes());
    out.extend([0; 4]);
    out.extend(vec![0x77; offset as usize]);
    out.extend(samples);
    out
}

#[rstest]
#[case::plain(aiff(b"AIFF", None, 16, 60, 0, &[0x40, 0, 0, 0, 0xC0, 0]))]
#[case::offset(aiff(b"AIFF", None, 16, 70, 10, &[0x40, 0, 0, 0, 0xC0, 0]))]
#[case::outer_size_zero(aiff(b"AIFF", None, 16, 0, 0, &[0x40, 0, 0, 0, 0xC0, 0]))]
#[case::outer_size_wrong(aiff(b"AIFF", None, 16, u32::MAX, 4, &[0x40, 0, 0, 0, 0xC0, 0]))]
#[case::eight_bit(aiff(b"AIFF", None, 8, 60, 0, &[0x40, 0, 0xC0]))]
#[case::twelve_bit(aiff(b"AIFF", None, 12, 60, 0, &[0x40, 0, 0, 0, 0xC0, 0]))]
#[case::twenty_four_bit(aiff(b"AIFF", None, 24, 60, 0, &[0x40, 0, 0, 0, 0, 0, 0xC0, 0, 0]))]
#[case::swapped(aiff(b"AIFC", Some(b"sowt"), 16, 60, 0, &[0, 0x40, 0, 0, 0, 0xC0]))]
#[case::float(aiff(b"AIFC", Some(b"fl32"), 32, 60, 0, &[0.5_f32, 0.0, -0.5].map(f32::to_be_bytes).concat()))]
fn aiff_files_with_odd_sizes_are_read_whole(#[case] bytes: Vec<u8>) {
    let read = converted(&bytes, 48_000).unwrap();
    assert!(read.remarks.is_empty(), "{:?}", read.remarks);
    assert_eq!(read.audio().unwrap().samples(), [0.5, 0.0, -0.5]);
}

#[rstest]
#[case::twenty_in_three(wav_in(20, 3, &[0, 0, 0x40, 0, 0, 0xC0]), &[0.5, -0.5])]
#[case::twelve_in_two(wav_in(12, 2, &[0, 0x40, 0, 0xC0]), &[0.5, -0.5])]
#[case::twenty_four_in_four(wav_in(24, 4, &[0, 0, 0, 0x40, 0, 0, 0, 0xC0]), &[0.5, -0.5])]
fn samples_in_larger_containers_are_read(#[case] bytes: Vec<u8>, #[case] expected: &[f32]) {
    assert_eq!(converted(&bytes, 48_000).unwrap().audio().unwrap().samples(), expected);
}

/// A mono WAV file whose samples stand in containers of so many bytes.
fn wav_in(bits: u16, container: u16, data: &[u8]) -> Vec<u8> {
    let mut bytes = wav(1, bits, 1, 48_000, data);
    bytes[32..34].copy_from_slice(&container.to_le_bytes());
    bytes
}

#[test]
fn what_is_missing_at_the_end_is_told_in_frames() {
    let mut bytes = wav(1, 16, 1, 48_000, &[1; 2000]);
    bytes.truncate(44 + 1201);
    let read = converted(&bytes, 48_000).unwrap();
    assert_eq!(read.frames, 600);
    assert!(read.remarks[0].contains("says 1000 frames, and 600 are there; 400 are missing"), "{:?}", read.remarks);
    assert!(converted(&wav(1, 16, 1, 48_000, &[1; 2000]), 48_000).unwrap().remarks.is_empty());
}

#[test]
fn of_two_descriptions_the_first_counts_and_that_is_told() {
    let good = wav(1, 16, 1, 48_000, &[0, 0x40, 0, 0xC0]);
    let mut other = good[12..36].to_vec();
    other[12..16].copy_from_slice(&96_000_u32.to_le_bytes());
    let bytes = [&good[..36], &other, &good[36..]].concat();
    let read = converted(&bytes, 48_000).unwrap();
    assert!(read.remarks.len() == 1 && read.remarks[0].contains("describes its samples twice"), "{:?}", read.remarks);
    assert_eq!(read.audio().unwrap().samples(), [0.5, -0.5]);
}

#[rstest]
#[case::streamed(None, 0x7FFF_FFFF)]
#[case::streamed_less_a_head(None, 0xFFFF_FFFF - 44)]
#[case::all_ones(None, u32::MAX)]
#[case::long_and_absurd(Some([u64::MAX, u64::MAX]), u32::MAX)]
#[case::long_and_huge(Some([1 << 60, 1 << 59]), u32::MAX)]
#[case::long_beyond_the_whole(Some([100, 1 << 34]), u32::MAX)]
#[case::long_and_nothing(Some([0, 0]), u32::MAX)]
fn sizes_that_were_never_known_are_no_missing_frames(#[case] long: Option<[u64; 2]>, #[case] said: u32) {
    let mut bytes = wav(1, 16, 1, 48_000, &[1; 2000]);
    bytes[40..44].copy_from_slice(&said.to_le_bytes());
    if let Some([whole, data]) = long {
        bytes[..4].copy_from_slice(b"RF64");
        let sizes = [whole.to_le_bytes(), data.to_le_bytes(), [0; 8]].concat();
        bytes.splice(12..12, [&b"ds64\x18\0\0\0"[..], &sizes].concat());
    }
    let read = converted(&bytes, 48_000).unwrap();
    assert_eq!((read.frames, read.remarks.as_slice()), (1000, &[][..]));
}

#[test]
fn a_long_recording_that_is_cut_off_is_told_by_its_long_size() {
    let mut bytes = wav(1, 16, 1, 48_000, &[1; 2000]);
    bytes[40..44].fill(0xFF);
    bytes[..4].copy_from_slice(b"RF64");
    let sizes = [5_000_000_080_u64.to_le_bytes(), 5_000_000_000_u64.to_le_bytes(), [0; 8]].concat();
    bytes.splice(12..12, [&b"ds64\x18\0\0\0"[..], &sizes].concat());
    assert!(converted(&bytes, 48_000).unwrap().remarks[0].contains("says 2500000000 frames"));
}

#[rstest]
#[case::behind_the_samples(0)]
#[case::behind_the_samples_with_a_time(480_000)]
fn a_time_reference_behind_the_samples_counts_and_so_does_midnight(#[case] reference: u64) {
    let mut bytes = wav(1, 16, 1, 48_000, &[1, 0, 2, 0, 3, 0]);
    let mut chunk = vec![0; 602];
    chunk[338..346].copy_from_slice(&reference.to_le_bytes());
    bytes.extend(b"bext");
    bytes.extend((chunk.len() as u32).to_le_bytes());
    bytes.extend(chunk);
    let read = converted(&bytes, 48_000).unwrap();
    assert_eq!((read.time_reference, read.frames), (Some(reference), 3));
}

#[rstest]
#[case(44_056)]
#[case(47_952)]
#[case(47_999)]
#[case(48_048)]
#[case(12_345)]
#[case(44_100)]
#[case(88_200)]
fn audio_lies_on_its_frame_whatever_the_rate_was(#[case] from: u32) {
    // A slow sine whose phase says where it lies, to a hundredth of a frame.
    let hz = 200.0;
    let audio =
        converted(&stem(Depth::Float32, from, &sine(hz, from, from as usize)), 48_000).unwrap().audio().unwrap();
    let (mut re, mut im) = (0.0, 0.0);
    for n in 12_000..36_000 {
        let phase = std::f64::consts::TAU * hz * n as f64 / 48_000.0;
        let x = f64::from(audio.frame(n)[0]);
        re += x * phase.sin();
        im += x * phase.cos();
    }
    let late_frames = -f64::atan2(im, re) / std::f64::consts::TAU * 48_000.0 / hz;
    assert!(late_frames.abs() < 0.01, "{late_frames} frames late");
}

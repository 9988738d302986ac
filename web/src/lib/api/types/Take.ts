// Made by `cargo xtask types`.
import type { Metre } from "./Metre";
import type { Note } from "./Note";
import type { Tempo } from "./Tempo";

/**
 * A MIDI file's notes and the time they were written in.
 */
export type Take = { 
/**
 * What it is called.
 */
name: string, 
/**
 * Names of the file's tracks; empty where they have none.
 */
tracks: Array<string>, 
/**
 * In order of time.
 */
notes: Array<Note>, 
/**
 * The first tempo of the file, if it has one.
 */
tempo_bpm: Tempo | null, 
/**
 * The first metre of the file, if it has one.
 */
metre: Metre | null, 
/**
 * What was left out or taken otherwise, for people.
 */
remarks: Array<string>, };

//! The pages are part of the program, so it is built again when they change.

fn main() {
    println!("cargo::rerun-if-changed=../../web/dist");
}

//! Bakes the front end in anew whenever it was built anew, new file names included.

fn main() {
    println!("cargo::rerun-if-changed=../web/dist");
}

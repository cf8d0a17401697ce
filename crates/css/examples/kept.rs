//! What a browser keeps of a value: `cargo run -p fidelon-css --example kept -- margin '0 AUTO'`.

fn main() {
    let given: Vec<String> = std::env::args().skip(1).collect();
    let [name, value] = given.as_slice() else {
        eprintln!("usage: kept PROPERTY VALUE");
        return;
    };
    match fidelon_css::canonical(name, value) {
        Some(kept) => println!("{}: {kept}", fidelon_css::property(name)),
        None => println!("{value} is no value of {name}"),
    }
}

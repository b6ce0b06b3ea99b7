//! The front end's own tests (the outbox, drafts, the formatting of units), run by its test runner and told here case by case.

use libtest_mimic::{Arguments, Failed, Trial};
use serde_json::Value;
use std::path::Path;
use std::process::{Command, ExitCode};

fn main() -> ExitCode {
    let arguments = Arguments::from_args();
    let trials = match cases() {
        Ok(trials) => trials,
        Err(why) => vec![Trial::test("the front end's tests run", move || {
            Err(Failed::from(why))
        })],
    };
    libtest_mimic::run(&arguments, trials).exit_code()
}

/// Each case as the runner reported it.
fn cases() -> Result<Vec<Trial>, String> {
    let web = Path::new(env!("CARGO_MANIFEST_DIR")).join("../web");
    let said = Command::new("npx")
        .current_dir(web)
        .args(["vitest", "run", "--reporter=json"])
        .output()
        .map_err(|error| format!("npx does not start: {error}"))?;
    let text = String::from_utf8_lossy(&said.stdout);
    let report = text.find('{').map(|start| &text[start..]);
    let report: Value = report
        .and_then(|text| serde_json::Deserializer::from_str(text).into_iter().next())
        .and_then(Result::ok)
        .ok_or_else(|| format!("{text}{}", String::from_utf8_lossy(&said.stderr)))?;
    let mut trials = Vec::new();
    for file in report["testResults"].as_array().into_iter().flatten() {
        let name = file["name"].as_str().unwrap_or_default();
        let name = name.rsplit("/src/").next().unwrap_or(name).to_string();
        let found = file["assertionResults"].as_array();
        let found = found.map(Vec::as_slice).unwrap_or_default();
        // A file that does not load has no cases, and must not pass for it.
        if found.is_empty() {
            let why = file["message"]
                .as_str()
                .unwrap_or("no case in it")
                .to_string();
            trials.push(Trial::test(name, move || Err(Failed::from(why))));
            continue;
        }
        for case in found {
            let title = case["fullName"].as_str().unwrap_or_default();
            let passed = case["status"] == "passed";
            let why = case["failureMessages"].to_string();
            let told = move || {
                if passed {
                    Ok(())
                } else {
                    Err(Failed::from(why))
                }
            };
            trials.push(Trial::test(format!("{name} {title}"), told));
        }
    }
    if trials.is_empty() {
        return Err("No case was found under web/src.".into());
    }
    Ok(trials)
}

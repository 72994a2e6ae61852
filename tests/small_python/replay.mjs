// Replays rows of inputs through listings on a small-controller Python: JSON in, JSON out.
import { readFileSync } from "node:fs";
import { loadMicroPython } from "@micropython/micropython-webassembly-pyscript/micropython.mjs";

const asked = JSON.parse(readFileSync(0, "utf8"));
const answers = [];
for (const each of asked) {
  const python = await loadMicroPython();
  python.registerJsModule("rig", { rows: JSON.stringify(each.rows), places: JSON.stringify(each.places) });
  python.runPython(each.listing.replace('if __name__ == "__main__":\n    run()\n', ""));
  python.runPython(`
import json
import rig
found = []
for row in json.loads(rig.rows):
    decide(*[float(row[i]) for i in json.loads(rig.places)])
    found.append([left_power, right_power, stopped])
    if stopped:
        break
answer = json.dumps(found)
`);
  answers.push(JSON.parse(python.globals.get("answer")));
}
process.stdout.write(JSON.stringify(answers));

// A listing on a small-controller Python that decides row by row: its file is the argument; a row of inputs a line in.
import { readFileSync, readSync } from "node:fs";
import { loadMicroPython } from "@micropython/micropython-webassembly-pyscript/micropython.mjs";

const [file, places] = process.argv.slice(2);
const python = await loadMicroPython();
const listing = readFileSync(file, "utf8").replace('if __name__ == "__main__":\n    run()\n', "");
python.runPython(listing);
python.runPython(`
def talk(row):
    numbers = [float(word) for word in row.split()]
    decide(*[numbers[i] for i in [${places}]])
    return repr(left_power) + " " + repr(right_power) + " " + str(stopped)
`);
const talk = python.globals.get("talk");
const bytes = Buffer.alloc(4096);
let waiting = "";
for (;;) {
  const end = waiting.indexOf("\n");
  if (end >= 0) {
    process.stdout.write(talk(waiting.slice(0, end)) + "\n");
    waiting = waiting.slice(end + 1);
    continue;
  }
  const count = readSync(0, bytes);
  if (count === 0) break;
  waiting += bytes.toString("utf8", 0, count);
}

"""Questions are answered by runs, and what did it is found by undoing each change."""

import unittest
from dataclasses import replace

from irontrail.core import derive
from irontrail.core.causes.cause import starts_of
from irontrail.core.causes.changed import what_changed
from irontrail.core.causes.questions import HOLDS, QUESTIONS, Answer, answered, asked_of
from irontrail.core.demos import DEMOS
from irontrail.core.errors import CalledOff
from irontrail.core.mat.tape import Gap
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup
from irontrail.core.starts import perturbed
from tests.support import lighthouse, setup_with


def ask(setup: Setup, asks: str) -> Answer:
    """The answer to the question that begins so."""
    return answered(next(each for each in QUESTIONS if each.asks.startswith(asks)), setup)


def good(setup: Setup) -> int:
    (over,) = starts_of([setup], lambda _done: True)
    return int(over.good.sum())


class QuestionsTest(unittest.TestCase):
    def test_a_loop_may_be_as_slow_as_it_says_and_not_a_step_slower(self) -> None:
        answer = ask(lighthouse(), "How slow")
        shares = {float(each.label): each.share for each in answer.columns}
        most = max(value for value, share in shares.items() if 10 * share >= HOLDS)
        beyond = min(value for value in shares if value > most)
        self.assertIn(
            f"Up to {most:.0f} ms once round. At {beyond:.0f} ms {10 * shares[beyond]:.0f} of 10", answer.says
        )
        self.assertGreaterEqual(good(lighthouse(program__loop_time_s=most / 1000)), HOLDS)
        self.assertLess(good(lighthouse(program__loop_time_s=beyond / 1000)), HOLDS)
        self.assertEqual([each.now for each in answer.columns], [True] + [False] * (len(answer.columns) - 1))

    def test_numbers_that_do_not_hold_are_to_be_tuned_first(self) -> None:
        self.assertIn("tune it first", ask(lighthouse(program__speed=75.0), "How slow").says)

    def test_how_crooked_is_the_worse_of_both_sides(self) -> None:
        answer = ask(lighthouse(), "How crooked")
        for each in answer.columns:
            angle = float(each.label.rstrip("°"))
            worse = min(good(lighthouse(trial__start_angle_deg=sign * angle)) for sign in (1.0, -1.0))
            self.assertEqual(round(10 * each.share), worse, each.label)
        most = max(float(each.label.rstrip("°")) for each in answer.columns if 10 * each.share >= HOLDS)
        self.assertIn(f"Up to {most:.0f}° to either side.", answer.says)

    def test_a_gap_is_cut_into_the_longest_straight_and_the_line_stays_as_long(self) -> None:
        answer = ask(lighthouse(), "How long a gap")
        most = max(float(each.label) for each in answer.columns if 10 * each.share >= HOLDS)
        self.assertIn(f"Up to {most:.0f} mm", answer.says)
        self.assertLess(answer.columns[-1].share, 0.5)
        self.assertFalse(any(isinstance(piece, Gap) for piece in lighthouse().mat.line.pieces))

    def test_edges_and_ways_are_all_tried(self) -> None:
        answer = ask(DEMOS["quarry"].make(), "Which edge")
        self.assertEqual([each.label for each in answer.columns], ["left", "left, back", "right", "right, back"])
        quarry = DEMOS["quarry"].make()
        self.assertEqual(round(10 * answer.columns[2].share), good(with_value(quarry, "program.edge", "right")))
        self.assertEqual([each.now for each in answer.columns], [True, False, False, False])

    def test_where_the_sensor_sits_and_from_where_to_where_it_holds(self) -> None:
        answer = ask(lighthouse(), "Where should")
        holding = [float(each.label) for each in answer.columns if 10 * each.share >= HOLDS]
        self.assertIn(f"It holds from {holding[0]:.0f} to {holding[-1]:.0f} mm.", answer.says)
        self.assertEqual([each.label for each in answer.columns if each.now], ["75"])

    def test_what_each_term_does(self) -> None:
        answer = ask(lighthouse(program__law="PID"), "Do D and I")
        without = good(lighthouse(program__law="PID", program__pid__kd=0.0))
        says = f"Without D only {without} of 10 go well" if without < 9 else "Without D it swings more"
        self.assertIn(says, answer.says)
        self.assertEqual(round(10 * answer.columns[1].share), without)
        for column, left_out in zip(answer.columns[1:], ("kd", "ki"), strict=True):
            (over,) = starts_of(
                [lighthouse(program__law="PID", **{f"program__pid__{left_out}": 0.0})], lambda _done: True
            )
            self.assertEqual(column.time_s, over.time_s)
        self.assertNotIn("Do D and I do anything?", [each.asks for each in asked_of(lighthouse())])

    def test_the_bend_that_limits_is_where_most_end(self) -> None:
        tannery = DEMOS["tannery"].make()
        answer = ask(tannery, "Which bend")
        where, _, words = answer.says.partition(":")
        speed = float(words.split(" at ")[1].split()[0])
        ended = 0
        for number in range(1, 11):
            run = derive.run(perturbed(setup_with(tannery, program__speed=speed), number))
            if run.outcome != "finished":
                at = (run.start_mm + float(run.trace.progress_mm[-1])) % run.route.length_mm
                bend = next((each for each in run.route.bends if each.start_mm <= at <= each.end_mm), None)
                ended += bend is not None and f"Bend {bend.name}" == where
        self.assertTrue(where.startswith("Bend"), where)
        self.assertIn(f"{ended} of", words)
        self.assertGreater(ended, 1)

    def test_which_questions_make_sense(self) -> None:
        self.assertEqual(asked_of(DEMOS["lantern"].make()), ())
        self.assertEqual(asked_of(DEMOS["ropewalk"].make()), ())
        named = lighthouse(light__sensor__scale="colour names", program__law="on-off")
        self.assertNotIn("How bright may the hall be?", [each.asks for each in asked_of(named)])
        for question in asked_of(DEMOS["ferry"].make()):
            self.assertTrue(answered(question, DEMOS["ferry"].make()).says)

    def test_it_stops_when_told_to(self) -> None:
        with self.assertRaises(CalledOff):
            answered(QUESTIONS[0], lighthouse(), lambda _done: False)


class ChangedTest(unittest.TestCase):
    def test_of_several_changes_the_one_that_did_it(self) -> None:
        now = lighthouse(program__speed=52.0, program__loop_time_s=0.09, robot__drive__grip=0.65)
        found = what_changed(lighthouse(), now)
        self.assertIn("Then 10 of 10 shaken starts went well, now 0.", found.says)
        self.assertIn("Loop time 10 → 90 ms did it: without that 10 go well.", found.says)
        self.assertEqual(found.undone[0].setup, with_value(now, "program.loop_time_s", 0.01))
        self.assertEqual(len(found.undone), 3)

    def test_two_that_only_together_mend_it_are_not_blamed_alone(self) -> None:
        now = lighthouse(program__loop_time_s=0.09, program__line="light")
        found = what_changed(lighthouse(), now)
        self.assertTrue(all(each.good < 5 for each in found.undone))
        self.assertIn("No single change did it", found.says)

    def test_of_a_slower_run_what_made_it_so(self) -> None:
        found = what_changed(lighthouse(), lighthouse(program__speed=42.0, robot__drive__grip=0.65))
        self.assertRegex(found.says, r"It is \d\.\d s slower: speed 50 → 42 % made (9\d|100) % of that\.")

    def test_nothing_changed_and_nothing_worse(self) -> None:
        self.assertEqual(what_changed(lighthouse(), lighthouse()).says, "Nothing was changed since then.")
        self.assertIn("It is no worse.", what_changed(lighthouse(), lighthouse(robot__drive__grip=0.71)).says)

    def test_another_mat_is_one_change(self) -> None:
        other = setup_with(DEMOS["orchard"].make(), program__speed=45.0)
        found = what_changed(lighthouse(), other)
        self.assertEqual(len(found.undone), 2)
        self.assertTrue(any("mat" in each.says for each in found.undone))

    def test_what_cannot_be_undone_alone_is_left(self) -> None:
        pair = DEMOS["ropewalk"].make()
        alone = replace(lighthouse(), mat=pair.mat)
        self.assertIsInstance(what_changed(alone, pair).says, str)


if __name__ == "__main__":
    unittest.main()

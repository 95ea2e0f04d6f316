"""What is remembered between one nest and the next: how much, and that forgetting changes nothing."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from nestline.document import edits
from nestline.remembering import Memory
from support import STORY, document, frame, paragraph, studio

KEYS = st.lists(st.integers(0, 12), max_size=30)


class Remembered(unittest.TestCase):
    def test_the_ones_not_asked_for_the_longest_go_first(self) -> None:
        memory: Memory[str, int] = Memory(3)
        for key in "abxc":
            memory.put(key, 1)
        memory.round()
        memory.get("a")
        memory.put("d", 1)
        self.assertEqual([memory.get(key) for key in "acd"], [1, 1, 1], "what the round before used stays")
        memory.round()
        memory.put("e", 1)
        self.assertEqual([memory.get(key) for key in "abcde"], [1, None, 1, 1, 1])

    def test_what_a_round_uses_is_kept_however_much_it_is(self) -> None:
        memory: Memory[int, int] = Memory(10)
        for _ in range(3):
            memory.round()
            worked_out = 0
            for key in range(40):
                if memory.get(key) is None:
                    memory.put(key, key + 1)
                    worked_out += 1
        self.assertEqual(worked_out, 0)
        # One of them changed: the others are asked for after it, and are still there.
        memory.round()
        memory.put(40, 1)
        self.assertEqual([memory.get(key) for key in range(40)], [key + 1 for key in range(40)])
        memory.round()
        memory.round()
        memory.round()
        self.assertLessEqual(memory.size, 10)

    def test_passing_states_push_each_other_out_and_nothing_that_lasts(self) -> None:
        memory: Memory[int, int] = Memory(10)
        memory.round()
        for key in range(8):
            memory.put(key, 1)
        memory.round(passing=True)
        for key in range(100, 200):
            memory.put(key, 1)
        self.assertLessEqual(memory.size, 10)
        self.assertEqual([memory.get(key) for key in range(8)], [1] * 8)
        self.assertIsNone(memory.get(100))

    def test_made_slim_it_has_what_the_last_two_rounds_asked_for(self) -> None:
        memory: Memory[int, int] = Memory(1000)
        for first in (0, 10, 20, 30):
            memory.round()
            for key in range(first, first + 10):
                memory.put(key, 1)
        memory.slim()
        self.assertEqual([key for key in range(40) if memory.get(key)], list(range(20, 40)))
        self.assertEqual((memory.size, len(memory)), (20, 20))

    @given(st.lists(st.tuples(st.booleans(), st.booleans(), KEYS, KEYS), max_size=12), st.integers(1, 12))
    def test_a_value_is_the_last_one_put_or_none_and_sizes_add_up(
        self, rounds: list[tuple[bool, bool, list[int], list[int]]], most: int
    ) -> None:
        memory: Memory[int, tuple[int, int]] = Memory(most, lambda value: 1 + value[0] % 3)
        last: dict[int, tuple[int, int]] = {}
        lasting: set[int] = set()
        before: set[int] = set()
        for number, (passing, slim, put, got) in enumerate(rounds):
            memory.round(passing)
            if slim:
                memory.slim()
            if not passing:
                lasting, before = set(), lasting
            for key in put:
                last[key] = (key, number)
                memory.put(key, last[key])
                lasting = lasting - {key} if passing else lasting | {key}
                before = before - {key}
            for key in got:
                found = memory.get(key)
                self.assertIn(found, (None, last.get(key)))
                if found is not None and not passing:
                    lasting.add(key)
            for key in lasting | before:
                self.assertEqual(memory.get(key), last[key])
            kept = [value for value in map(memory.get, last) if value is not None]
            lasting |= {key for key in last if memory.get(key) is not None} if not passing else set()
            before = before if passing else set()
            self.assertEqual(memory.size, sum(1 + value[0] % 3 for value in kept))
            self.assertEqual(len(memory), len(kept))


class Typed(unittest.TestCase):
    """Copy typed letter by letter, each state of it shaped and nested."""

    def test_what_is_remembered_stays_within_its_bounds(self) -> None:
        kept = studio()
        paragraphs = [paragraph(f"{STORY} {n}", size=8) for n in range(40)]
        objects = [{**frame(x=10 + 205 * n, width=195, height=560), "id": f"f{n}"} for n in range(4)]
        raw = {**document(objects, *paragraphs), "chains": [["f0", "f1", "f2", "f3"]]}
        at = ["copies", "story", "versions", "en", "paragraphs", 2, "runs"]
        sizes = []
        for n in range(60):
            value = [{"text": f"{STORY} {'x' * (n + 1)}"}]
            raw = edits.apply(raw, [{"do": "put", "at": at, "value": value}]).document
            last = kept.nest(kept.read(raw))
            shaper = kept.nester.shaper
            sizes.append([m.size for m in (shaper._copies, shaper._paragraphs, kept.nester._nests)])
        for most, size in zip((24e6, 24e6, 18e6), sizes[-1], strict=True):
            self.assertLess(size, most)
        self.assertGreater(sizes[-1][0], 10e6, "what was typed before is remembered as far as there is room")
        # The same as of a studio that remembers nothing.
        fresh = studio()
        for ours, theirs in zip(last, fresh.nest(fresh.read(raw)), strict=True):
            self.assertEqual(ours.nest.records.tolist(), theirs.nest.records.tolist())

"""Where lines sit, compiled by Numba: the usable height, and the start from which a nest is nearest the middle."""

from __future__ import annotations

import numpy as np
from numba import njit

from nestline.nesting.lines import fill_band, nest_from
from nestline.nesting.pieces import (
    AFTER,
    ASC,
    BEFORE,
    BOX_DOWN,
    BOX_UP,
    BREAKING,
    BY_LINE_BOX,
    COLUMN_SHIFT,
    COLUMNS,
    DESC,
    DROP_LINES,
    ENDS,
    FIRST_FIT,
    HANG_LEAST,
    LEADING,
    OPENS,
    PARAGRAPH,
    PIECE_COLUMNS,
    RECORD_COLUMNS,
    UNDER,
    Y_BOTTOM,
    Y_TOP,
    hang_height,
    indents,
    least_slot,
    piece_width,
    reach_below,
    stand_depth,
    step_down,
)
from nestline.nesting.space import EPSILON, FAR, next_usable, previous_usable, slots_in_band, spent

MOST_TRIED = 4000
FINE = 0.01
SCANNED = 16
STARTS_A_LINE, MOST_SAMPLES = 16, 1200
"""How many starts are tried a line apart where breaks are chosen over all lines, and at most in all."""


@njit(cache=True)
def usable_height(space, first, last, rules, frame, slots):
    """The y of the highest hang metric and of the lowest stand metric at which a band has a usable slot.

    `first` and `last` are pieces of the first and the last line. Returns (FAR, −FAR) when there is none.
    """
    by_box = frame[BY_LINE_BOX] > 0
    hang, stand = hang_height(first, frame), stand_depth(last, frame)
    least = least_slot(rules, int(first[PARAGRAPH]), frame)
    down = first[BOX_DOWN] if by_box else first[DESC]
    up = first[BOX_UP] if by_box else first[ASC]
    start = frame[Y_TOP] + max(hang, frame[HANG_LEAST])
    highest, deepest = FAR, -FAR
    above = last[BOX_UP] if by_box else last[ASC]
    below = min(last[BOX_DOWN] if by_box else last[DESC], stand)
    least_last = least_slot(rules, int(last[PARAGRAPH]), frame)
    for column in range(int(frame[COLUMNS])):
        shift = column * frame[COLUMN_SHIFT]
        floor = frame[Y_BOTTOM] + shift
        found = next_usable(space, start + shift, min(up, hang), down, least, floor, slots)
        if found == FAR:
            continue
        highest = min(highest, found - hang - shift)
        lowest = previous_usable(space, floor - stand, frame[Y_TOP] + shift, above, below, least_last, slots)
        if lowest > -FAR:
            deepest = max(deepest, lowest + stand - shift)
    return highest, deepest


@njit(cache=True)
def off_middle(space, pieces, rules, frame, hang_y, aim_bottom, lift, top, bottom, records, slots, ends):
    """How far the nest from `hang_y` is from where it should sit: above less below (0 in the middle), or less below.

    FAR when copy is left over. `ends` as in nest_from.
    """
    _, at = nest_from(space, pieces, rules, frame, 0, hang_y, records, slots, ends)
    if at < len(pieces):
        return FAR
    below = bottom - ends[1]
    if aim_bottom:
        return -below
    return (ends[0] - top) - below + 2 * lift


@njit(cache=True)
def heights_between(pieces, first, last, tallest, lowest):
    """The greatest and the least heights of pieces first…last, into two rows like a piece's."""
    tallest[:] = pieces[first]
    lowest[:] = pieces[first]
    for p in range(first + 1, last + 1):
        for c in range(ASC, UNDER + 1):
            tallest[c] = max(tallest[c], pieces[p, c])
            lowest[c] = min(lowest[c], pieces[p, c])


@njit(cache=True)
def bounds_over(space, pieces, rules, frame, y, height, gaps, even, slots, out):
    """Bounds of the first hang metric and the last stand metric of the nests from all starts y to y + height.

    `out` receives least and greatest hang y, least and greatest stand y, and 1 when every line stands by leading.
    Returns False when copy is left over from each start. Two nests are followed line by line: one that stays ahead of
    every nest of these starts (its bands are what they share) and one that stays behind (its bands are all that any of
    them covers); first fit keeps their order. `gaps` is the room above a line that begins with each piece; `even` says
    that all pieces have the same heights.
    """
    n = len(pieces)
    by_box = frame[BY_LINE_BOX] > 0
    floor = frame[Y_BOTTOM]
    ahead = behind = line = 0
    last_ahead = last_behind = 0.0
    down_above_ahead = down_above_behind = 0.0
    tall, tallest, lowest = np.zeros(PIECE_COLUMNS), np.empty(PIECE_COLUMNS), np.empty(PIECE_COLUMNS)
    nothing = np.empty((0, RECORD_COLUMNS))
    out[:] = (0.0, 0.0, FAR, FAR, 1.0)
    heights_between(pieces, 0, 0 if even else n - 1, tallest, lowest)
    while behind < n:
        reach = ahead
        found_ahead = found_behind = 0.0
        after = ahead
        may_be_cut = False
        fewest, most = FAR, 0.0
        for p in range(int(pieces[behind, PARAGRAPH]), int(pieces[min(ahead, n - 1), PARAGRAPH]) + 1):
            fewest, most = min(fewest, least_slot(rules, p, frame)), max(most, least_slot(rules, p, frame))
        # Where heights differ the line is bounded twice: by the heights of all copy, then by those it may hold.
        for again in range(1 if even else 2):
            if not even:
                heights_between(pieces, behind if again else 0, min(reach, n) - 1 if again else n - 1, tallest, lowest)
            up_behind, up_ahead = (tallest[BOX_UP], lowest[BOX_UP]) if by_box else (tallest[ASC], lowest[ASC])
            down_behind, down_ahead = (tallest[BOX_DOWN], lowest[BOX_DOWN]) if by_box else (tallest[DESC], lowest[DESC])
            stand_behind, stand_ahead = stand_depth(tallest, frame), stand_depth(lowest, frame)
            over_behind, over_ahead = up_behind, up_ahead
            need_behind, need_ahead = most, fewest
            if line == 0:
                hang_behind, hang_ahead = hang_height(tallest, frame), hang_height(lowest, frame)
                from_ahead, from_behind = y + hang_ahead, y + height + hang_behind
                over_ahead, over_behind = min(up_ahead, hang_ahead), min(up_behind, hang_behind)
                first = piece_width(pieces, 0, 0) + indents(rules, 0, True, True)
                need_ahead, need_behind = max(need_ahead, first), max(need_behind, first)
            else:
                from_ahead, from_behind = FAR, -FAR
                for p in range(behind, min(ahead, n - 1) + 1):
                    rule = rules[int(pieces[p, PARAGRAPH])]
                    from_ahead = min(from_ahead, gaps[p] + step_down(rule, lowest, by_box, down_above_ahead))
                    from_behind = max(from_behind, gaps[p] + step_down(rule, tallest, by_box, down_above_behind))
                from_ahead += last_ahead
                from_behind += last_behind
            lowest_band = floor - max(stand_behind, down_behind)
            found_behind = next_usable(space, from_behind, over_behind, down_behind, need_behind, lowest_band, slots)
            may_be_cut = found_behind == FAR
            if may_be_cut:
                found_behind = max(from_behind, floor - min(stand_behind, down_behind))
            under = min(down_ahead, stand_ahead)
            # An object in line may stand all above a line, or below it: then lines share no band, and any may do.
            found_ahead = from_ahead
            if over_ahead + under > 0:
                found_ahead = next_usable(space, from_ahead, over_ahead, under, need_ahead, floor - under, slots)
            if found_ahead == FAR:
                if ahead < n:
                    return False
                found_ahead = from_ahead
            if found_ahead > from_ahead + 1e-6 or found_behind > from_behind + 1e-6:
                out[4] = 0.0
            if line == 0:
                out[0], out[1] = found_ahead - hang_behind, found_behind - hang_ahead
            after = ahead
            if ahead < n:
                core_top = found_behind - over_ahead
                core_bottom = found_ahead + (under if may_be_cut else down_ahead)
                if core_bottom - core_top < 0.01:
                    after = n
                else:
                    count = slots_in_band(space, core_top, core_bottom, fewest, slots)
                    after, _ = fill_band(
                        pieces, rules, frame, ahead, 0, 0.0, 0.0, 0.0, slots, count, 0, nothing, 0, tall
                    )
            reach = max(after, behind + 1)
        if ahead < n and after >= n:
            out[2] = found_ahead + stand_ahead
        ahead = after
        if may_be_cut:
            break
        count = slots_in_band(space, found_ahead - over_behind, found_behind + down_behind, most, slots)
        behind, _ = fill_band(pieces, rules, frame, behind, 0, 0.0, 0.0, 0.0, slots, count, 0, nothing, 0, tall)
        if behind >= n:
            out[3] = found_behind + stand_behind
        # What the slower nest has placed, the faster has too.
        ahead = max(ahead, behind)
        last_ahead, last_behind = found_ahead, found_behind
        down_above_ahead, down_above_behind = reach_below(lowest, by_box), reach_below(tallest, by_box)
        line += 1
        if behind == 0:
            break
    if out[2] == FAR:
        # The rest needs a line below that one at least.
        out[2] = last_ahead + (stand_depth(lowest, frame) if even else 0.0)
    return True


@njit(cache=True)
def solve_by_scan(space, pieces, rules, frame, aim_bottom, lift, top, bottom, records, slots):
    """As `solve_sit`, for columns and drop caps, whose nests do not keep their order: starts are scanned a fraction of a
    line apart, and from each that is better than its neighbours the lines it has are followed."""
    ends = np.zeros(ENDS)
    slope = 1.0 if aim_bottom else 2.0
    count = int(min(400, max(24, (bottom - top) / 0.5)))
    offs = np.empty(count + 1)
    for i in range(count + 1):
        if spent(space):
            offs[i] = FAR
            continue
        y = top + (bottom - top) * i / count
        offs[i] = off_middle(space, pieces, rules, frame, y, aim_bottom, lift, top, bottom, records, slots, ends)
    if offs[0] == FAR:
        return FAR
    best_y, best = FAR, FAR
    for i in range(count + 1):
        here = abs(offs[i])
        if offs[i] == FAR or (i > 0 and abs(offs[i - 1]) < here) or (i < count and abs(offs[i + 1]) < here):
            continue
        y, off = top + (bottom - top) * i / count, offs[i]
        for _ in range(5):
            if off != FAR and abs(off) < best and (not aim_bottom or off <= EPSILON):
                best_y, best = y, abs(off)
            if off == FAR or abs(off) < 1e-6:
                break
            y = min(max(y - off / slope, top), bottom)
            off = off_middle(space, pieces, rules, frame, y, aim_bottom, lift, top, bottom, records, slots, ends)
        if best < 1e-6:
            break
    return best_y if best_y < FAR else top


@njit(cache=True)
def nearest_between(a, off_a, b, off_b, slope):
    """How near zero the lines of either end may come between two starts, and where: each goes on by `slope` as far as it
    does. FAR is an end from which copy is left over."""
    near, aim = FAR, (a + b) / 2
    for y, off in ((a, off_a), (b, off_b)):
        if off == FAR:
            continue
        zero = y - off / slope
        if a <= zero <= b:
            return 0.0, zero
        other = b if y == a else a
        this = min(abs(off), abs(off + slope * (other - y)))
        if this < near:
            near, aim = this, (a + b) / 2
    return near, aim


@njit(cache=True)
def solve_by_samples(
    space, pieces, rules, frame, aim_bottom, lift, top, bottom, step, best_y, best, records, slots, ends, offs, stack
):
    """As `solve_sit`, where breaks are chosen over all lines: starts a part of a line apart are nested, and between two
    whose lines are not the same those that could come nearer are looked for by halves.

    A later start puts the last line no higher but by the lines that other breaks save: where starts from a whole line on
    are too low by more than that, or leave copy over, none below is nearer.
    """
    slope = 1.0 if aim_bottom else 2.0
    fine = 5 * FINE
    apart = max(step / STARTS_A_LINE, (bottom - top) / (len(offs) - 2))
    count, hopeless = 0, 0.0
    while count < len(offs) and hopeless <= 2 * step and not spent(space):
        y = min(top + apart * count, bottom)
        off = off_middle(space, pieces, rules, frame, y, aim_bottom, lift, top, bottom, records, slots, ends)
        offs[count] = off
        if off != FAR and abs(off) < best and (not aim_bottom or off <= EPSILON):
            best_y, best = y, abs(off)
        hopeless = hopeless + apart if off == FAR or off > best + 3 * step else 0.0
        count += 1
        if y == bottom:
            break
    for i in range(count - 1):
        waiting = 1
        stack[0] = (top + apart * i, offs[i], min(top + apart * (i + 1), bottom), offs[i + 1])
        while waiting > 0 and best >= fine and not spent(space):
            waiting -= 1
            a, off_a, b, off_b = stack[waiting]
            near, y = nearest_between(a, off_a, b, off_b, slope)
            if (off_a == FAR) != (off_b == FAR):
                near, y = 0.0, (a + b) / 2  # the last start that holds all is often the nearest: it is looked for
            if near >= best - fine or b - a < fine:
                continue
            if y - a < 1e-9 or b - y < 1e-9:
                y = (a + b) / 2
            off = off_middle(space, pieces, rules, frame, y, aim_bottom, lift, top, bottom, records, slots, ends)
            if off != FAR and abs(off) < best and (not aim_bottom or off <= EPSILON):
                best_y, best = y, abs(off)
            if waiting + 2 <= len(stack):
                stack[waiting] = (y, off, b, off_b)
                stack[waiting + 1] = (a, off_a, y, off)
                waiting += 2
    return best_y


@njit(cache=True)
def solve_sit(space, pieces, rules, frame, aim_bottom, lift, top, bottom, records, slots):
    """The hang y at which the nest sits in the middle (or at the bottom) best. FAR when copy is left over at the top.

    First along the lines that the nest has: its offset is linear in y while they stay the same, so that a step or two
    find an exact answer if there is one nearby. Where none is found, and breaks are chosen over all lines, starts are
    sampled (`solve_by_samples`); in first fit all starts are searched by halves: a stretch of
    starts is bounded (`bounds_over`), the most promising is tried and cut in two, and those that cannot hold a nearer
    start than the best so far are dropped. The shortest stretches are scanned at 0.01 pt.
    """
    if frame[COLUMNS] > 1 or rules[:, DROP_LINES].max() > 1:
        return solve_by_scan(space, pieces, rules, frame, aim_bottom, lift, top, bottom, records, slots)
    ends = np.zeros(ENDS)
    slope = 1.0 if aim_bottom else 2.0
    best_y, best = FAR, FAR
    y = top
    for _ in range(8):
        off = off_middle(space, pieces, rules, frame, y, aim_bottom, lift, top, bottom, records, slots, ends)
        if off == FAR:
            if y == top:
                return FAR
            break
        if abs(off) < best and (not aim_bottom or off <= EPSILON):
            best_y, best = y, abs(off)
        if abs(off) < 1e-6:
            return y
        aim = min(max(y - off / slope, top), bottom)
        if abs(aim - y) < 1e-9:
            break
        y = aim
    n = len(pieces)
    gaps = np.zeros(n)
    even = True
    leading = rules[0, LEADING]
    if frame[BY_LINE_BOX] > 0:
        leading = pieces[0, BOX_UP] + pieces[0, BOX_DOWN]
    same_steps, most_step = True, leading
    for p in range(n):
        most_step = max(most_step, max(pieces[p, OPENS], pieces[p, UNDER]))
    for p in range(1, n):
        paragraph = int(pieces[p, PARAGRAPH])
        if int(pieces[p - 1, PARAGRAPH]) != paragraph:
            gaps[p] = rules[int(pieces[p - 1, PARAGRAPH]), AFTER] + rules[paragraph, BEFORE]
            same_steps = same_steps and gaps[p] == 0 and rules[paragraph, LEADING] == rules[0, LEADING]
        for c in range(ASC, UNDER + 1):
            even = even and pieces[p, c] == pieces[0, c]
    same_steps = same_steps and even
    chosen = 0
    for p in range(len(rules)):
        chosen += 1 if rules[p, BREAKING] != FIRST_FIT else 0
    if chosen > 0:
        offs, stack = np.empty(MOST_SAMPLES), np.empty((64, 4))
        return solve_by_samples(
            space, pieces, rules, frame, aim_bottom, lift, top, bottom, most_step, best_y, best, records, slots, ends,
            offs, stack,
        )  # fmt: skip
    fine = FINE
    out = np.empty(5)
    begins, heights, nearest = np.empty(MOST_TRIED), np.empty(MOST_TRIED), np.empty(MOST_TRIED)
    aims = np.empty(MOST_TRIED)
    height = fine * SCANNED
    while height < 6 and height * 8 < bottom - top:
        height *= 2
    waiting = 0
    while top + height * waiting < bottom and waiting < MOST_TRIED:
        begins[waiting], heights[waiting], nearest[waiting], aims[waiting] = top + height * waiting, height, -1.0, 0.0
        waiting += 1
    near_enough = 1e-3
    for _ in range(MOST_TRIED):
        if waiting == 0 or spent(space):
            break
        # The most promising; of equals, at the bottom, the lowest.
        i = int(np.argmin(nearest[:waiting]))
        if aim_bottom:
            for other in range(waiting):
                if nearest[other] == nearest[i] and begins[other] > begins[i]:
                    i = other
        begin, height, bound, aim = begins[i], heights[i], nearest[i], aims[i]
        waiting -= 1
        begins[i], heights[i], nearest[i], aims[i] = (
            begins[waiting],
            heights[waiting],
            nearest[waiting],
            aims[waiting],
        )
        if bound >= best - near_enough:
            break
        parts = 1
        if bound >= 0:
            tries = SCANNED + 1 if height <= fine * SCANNED + 1e-9 else 1
            for t in range(tries):
                y = aim if t == 0 else begin + fine * (t - 1)
                off = off_middle(space, pieces, rules, frame, y, aim_bottom, lift, top, bottom, records, slots, ends)
                if off != FAR and abs(off) < best and (not aim_bottom or off <= EPSILON):
                    best_y, best = y, abs(off)
                if spent(space):
                    break
            if best < 1e-6:
                return best_y
            if bound >= best - near_enough or tries > 1:
                continue
            parts = 2
        height /= parts
        for part in range(parts):
            y = begin + height * part
            if waiting >= MOST_TRIED or not bounds_over(space, pieces, rules, frame, y, height, gaps, even, slots, out):
                continue
            low, high = out[2] - bottom, out[3] - bottom
            if aim_bottom:
                if low > EPSILON:
                    continue
                high = min(high, 0.0)
            else:
                low, high = low + out[0] - top + 2 * lift, high + out[1] - top + 2 * lift
            near = 0.0 if low <= 0 <= high else min(abs(low), abs(high))
            aim = y + height * (min(max(-low / (high - low), 0.0), 1.0) if low < high < FAR / 2 else 0.5)
            if same_steps and out[4] > 0:
                # Only whole lines can be between the bounds: the nearest that any count of lines comes.
                near = FAR
                at = low
                while at <= high + 1e-6:
                    last = at + slope * height
                    this = 0.0 if at <= 0 <= last else min(abs(at), abs(last))
                    if aim_bottom and at > 0:
                        this = FAR
                    if this < near:
                        near = this
                        aim = y + min(max(-at / slope, 0.0), height)
                    if at > 0:
                        break
                    at += leading
            if near < best:
                begins[waiting], heights[waiting], nearest[waiting], aims[waiting] = y, height, near, aim
                waiting += 1
    return best_y

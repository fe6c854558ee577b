"""Reads regulatory.db by itself, for the check of Kivram's reader: struct formats after db2fw.py, which makes such files. Prints JSON: the rules of each country and, of the channels on standard
input (middle and width in MHz), those on which an access point may send outdoors there, as net/wireless/reg.c of the Linux kernel takes them (from memory)."""
import json
import struct
import sys

data = open(sys.argv[1], "rb").read()
magic, version = struct.unpack_from(">4sI", data, 0)
assert (magic, version) == (b"RGDB", 20)
countries = {}
entry = 8
while True:
    alpha2, collection = struct.unpack_from(">2sH", data, entry)
    entry += 4
    if not collection:
        break
    length, count, region = struct.unpack_from(">BBB", data, collection << 2)
    first = (collection << 2) + ((length + 1) & ~1)
    rules = []
    for (pointer,) in struct.iter_unpack(">H", data[first : first + 2 * count]):
        _, flags, mbm, start, end, width = struct.unpack_from(">BBHIII", data, pointer << 2)
        rules.append({"flags": flags, "mbm": mbm, "startKHz": start, "endKHz": end, "widthKHz": width})
    countries[alpha2.decode()] = rules
NO_OFDM, NO_OUTDOOR, NO_IR, AUTO_BW = 1, 2, 8, 16


def widest(rules, rule):
    """reg_get_max_bandwidth: with AUTO-BW all that touches, without it what the rule says."""
    if not rule["flags"] & AUTO_BW:
        return rule["widthKHz"]
    start, end = rule["startKHz"], rule["endKHz"]
    for other in sorted(rules, key=lambda r: -r["startKHz"]):
        if other["startKHz"] < start <= other["endKHz"]:
            start = other["startKHz"]
    for other in sorted(rules, key=lambda r: r["startKHz"]):
        if other["startKHz"] <= end < other["endKHz"]:
            end = other["endKHz"]
    return end - start


def may_send(rules, centre, width):
    """Each 20 MHz of the channel lies in one rule, for outdoors, for beginning, and wide enough (reg_does_bw_fit, cfg80211_secondary_chans_ok)."""
    part = 20000 if width <= 160000 else width
    lows = range(centre - width // 2, centre + width // 2, part)
    barred = NO_OFDM | NO_OUTDOOR | NO_IR
    fits = lambda low, r: r["startKHz"] <= low and low + part <= r["endKHz"]
    return all(any(fits(low, r) and not r["flags"] & barred and widest(rules, r) >= width for r in rules) for low in lows)


channels = json.load(sys.stdin)
allowed = {
    country: [[c, w] for c, w in channels if may_send(rules, c * 1000, w * 1000)] for country, rules in countries.items()
}
json.dump({"rules": countries, "outdoors": allowed}, sys.stdout)

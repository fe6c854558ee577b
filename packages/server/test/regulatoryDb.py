"""Reads regulatory.db by itself, for the check of Kivram's reader: struct formats after db2fw.py, which makes such files. Prints JSON."""
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
json.dump(countries, sys.stdout)

"""How large what comes in may be: in bytes, rows, columns, cells, digits, memory and seconds.

What is documented here is what comes in within about 20 seconds; ``make bench`` measures it.
"""

MB = 1024 * 1024
MOST_BYTES = 24 * MB  # of a product sheet or a list of items
MOST_UPLOADED = 64 * MB  # of anything, which is a backup
MOST_UNPACKED = 96 * MB  # of a zip or workbook, all its members together
MOST_MEMBERS = 200
MOST_COLUMNS = 40
MOST_ROWS = 60_000  # of one sheet or table
MOST_ITEM_ROWS = 100_000
MOST_DIGITS = 30  # of one number
MOST_DEPTH = 40  # of one document
MOST_FAULTS = 200

MEMORY = 400 * MB  # of the process that reads a file
SECONDS = 20
AT_ONCE = 256 * 1024  # a text of this size is read in place

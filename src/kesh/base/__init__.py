"""What every part stands on: errors, places on the disk, writing, progress, work in other processes, words, units, status."""

"""The desk: a brief, its picture and its reasons on one page of this machine."""

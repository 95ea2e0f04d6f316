"""A stand-in for a translation desk: takes XLIFF, returns it with made-up words of realistic length after a simulated
delay."""

"""Small calculators beside the record: times and pace, the heating guide, doses."""

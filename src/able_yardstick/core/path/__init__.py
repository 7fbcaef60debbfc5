"""The one road from a transducer's output to the count."""

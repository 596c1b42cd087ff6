"""What is made from the models: the reference of all keys and the JSON Schema."""

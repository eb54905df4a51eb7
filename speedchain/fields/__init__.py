"""What the document is made of: field types, quantities and their parser, texts, evidence, errors."""

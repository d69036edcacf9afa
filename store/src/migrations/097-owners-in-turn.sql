-- Whoever changes owners writes here first: of two nodes of a cluster, one then sees what the other did.
CREATE TABLE IF NOT EXISTS turns (
  name VARCHAR(40) CHARACTER SET ascii PRIMARY KEY,
  turn BIGINT UNSIGNED NOT NULL
)

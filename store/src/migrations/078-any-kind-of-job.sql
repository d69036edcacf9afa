-- A kind that this version does not know belongs to a newer one, which shares the queue.
ALTER TABLE jobs MODIFY kind VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL

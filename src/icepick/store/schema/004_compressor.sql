-- How much the compressor was asked for in a run: its stage, or its speed in percent of the rated one.

ALTER TABLE runs ADD COLUMN compressor_stage TEXT;
ALTER TABLE runs ADD COLUMN compressor_speed REAL;

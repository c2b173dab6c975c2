-- +goose Up
-- A forgotten template can be brought back.
ALTER TABLE templates ADD COLUMN forgotten INTEGER NOT NULL DEFAULT 0;

DROP TABLE category_weights;
ALTER TABLE assignments DROP COLUMN category;

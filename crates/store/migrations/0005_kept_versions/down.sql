DROP TABLE kept_versions;

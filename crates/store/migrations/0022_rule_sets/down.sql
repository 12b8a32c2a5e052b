DROP TABLE rule_sets;

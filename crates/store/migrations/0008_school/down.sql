-- A class, its assignments and its people have no place in what was there before: a backup made before is restored.
SELECT no_way_back;

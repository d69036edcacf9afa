UPDATE grouping_changes SET rules = IF(TRIM(rules) = '', 'algorithm 1', CONCAT(TRIM(TRAILING '\n' FROM rules), '\nalgorithm 1'))
WHERE rules NOT REGEXP '(^|\n)[ \t]*algorithm[ \t]'

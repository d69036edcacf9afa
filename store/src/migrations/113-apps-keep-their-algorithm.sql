INSERT INTO grouping_changes (app_id, rules, state, asked_by)
SELECT apps.id, 'algorithm 1', 'applied', 'the upgrade' FROM apps
WHERE apps.grouping_change_id IS NULL
  AND EXISTS (SELECT 1 FROM cases WHERE cases.app_id = apps.id)
  AND NOT EXISTS (SELECT 1 FROM grouping_changes known WHERE known.app_id = apps.id AND known.asked_by = 'the upgrade')

UPDATE apps JOIN grouping_changes ON grouping_changes.app_id = apps.id AND grouping_changes.asked_by = 'the upgrade'
SET apps.grouping_change_id = grouping_changes.id
WHERE apps.grouping_change_id IS NULL

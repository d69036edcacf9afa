UPDATE intake_keys SET rules = JSON_REMOVE(JSON_INSERT(rules, '$.excludedBuildTypes', JSON_EXTRACT(rules, '$.apartBuildTypes')), '$.apartBuildTypes')
WHERE JSON_EXISTS(rules, '$.apartBuildTypes')

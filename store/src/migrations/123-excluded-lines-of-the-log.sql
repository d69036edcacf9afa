UPDATE intake_log SET details = REPLACE(details, '"outcome":"apart"', '"outcome":"excluded"') WHERE details LIKE '%"outcome":"apart"%'

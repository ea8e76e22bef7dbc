UPDATE `crossings` SET `audience` = '{"kind":"named"}' WHERE json_value(`audience`, '$.kind') = 'named';

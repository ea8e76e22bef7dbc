ALTER TABLE `ledger_postings` ADD `plan_id` uuid;--> statement-breakpoint
ALTER TABLE `ledger_postings` ADD `line_id` uuid;--> statement-breakpoint
-- What was posted so far was for the order's plan. The guard lets no posting be changed, so it stands aside.
DROP TRIGGER IF EXISTS ledger_postings_no_update;--> statement-breakpoint
UPDATE `ledger_postings` g JOIN `ledger_entries` e ON e.`id` = g.`entry_id` JOIN `payments` p ON p.`id` = e.`payment_id` JOIN `order_lines` l ON l.`order_id` = p.`order_id` AND l.`kind` = 'plan' SET g.`plan_id` = l.`plan_id`, g.`line_id` = l.`id` WHERE g.`account` <> 'processor';--> statement-breakpoint
CREATE TRIGGER ledger_postings_no_update BEFORE UPDATE ON ledger_postings FOR EACH ROW SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'A posting is never changed';

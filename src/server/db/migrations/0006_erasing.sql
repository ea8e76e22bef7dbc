-- What must never change is still refused; what names a person can be erased, and nothing else of the row with it.
DROP TRIGGER IF EXISTS receipts_no_update;
--> statement-breakpoint
CREATE TRIGGER receipts_no_update BEFORE UPDATE ON receipts FOR EACH ROW
IF NOT (NEW.id <=> OLD.id AND NEW.number <=> OLD.number AND NEW.kind <=> OLD.kind AND NEW.payment_id <=> OLD.payment_id
	AND NEW.member_id <=> OLD.member_id AND NEW.amount_minor <=> OLD.amount_minor AND NEW.currency <=> OLD.currency
	AND NEW.issued_at <=> OLD.issued_at
	AND JSON_COMPACT(JSON_REMOVE(NEW.content, '$.buyer')) <=> JSON_COMPACT(JSON_REMOVE(OLD.content, '$.buyer'))
	AND (JSON_VALUE(NEW.content, '$.buyer.name') = '' OR JSON_VALUE(NEW.content, '$.buyer.name') <=> JSON_VALUE(OLD.content, '$.buyer.name'))
	AND (JSON_VALUE(NEW.content, '$.buyer.email') = '' OR JSON_VALUE(NEW.content, '$.buyer.email') <=> JSON_VALUE(OLD.content, '$.buyer.email')))
THEN SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'A receipt is never changed'; END IF;
--> statement-breakpoint
DROP TRIGGER IF EXISTS audit_no_update;
--> statement-breakpoint
CREATE TRIGGER audit_no_update BEFORE UPDATE ON audit FOR EACH ROW
IF NOT (NEW.id <=> OLD.id AND NEW.wall_at <=> OLD.wall_at AND NEW.business_at <=> OLD.business_at AND NEW.actor_id <=> OLD.actor_id
	AND NEW.action <=> OLD.action AND NEW.subject_kind <=> OLD.subject_kind AND NEW.subject_id <=> OLD.subject_id
	AND NEW.member_id <=> OLD.member_id
	AND (NEW.before_value IS NULL OR NEW.before_value <=> OLD.before_value)
	AND (NEW.after_value IS NULL OR NEW.after_value <=> OLD.after_value)
	AND (NEW.why IS NULL OR NEW.why <=> OLD.why))
THEN SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'An audit row is never changed'; END IF;
--> statement-breakpoint
DROP TRIGGER IF EXISTS audit_no_delete;
--> statement-breakpoint
CREATE TRIGGER audit_no_delete BEFORE DELETE ON audit FOR EACH ROW
IF OLD.action <> 'looked-as' THEN SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'An audit row is never removed'; END IF;

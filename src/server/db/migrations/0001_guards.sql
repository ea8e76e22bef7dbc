-- What must never change is refused by the database itself.
CREATE TRIGGER price_versions_no_update BEFORE UPDATE ON price_versions FOR EACH ROW SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'A price version is never changed';
--> statement-breakpoint
CREATE TRIGGER price_versions_no_delete BEFORE DELETE ON price_versions FOR EACH ROW SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'A price version is never removed';
--> statement-breakpoint
CREATE TRIGGER ledger_postings_no_update BEFORE UPDATE ON ledger_postings FOR EACH ROW SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'A posting is never changed';
--> statement-breakpoint
CREATE TRIGGER ledger_postings_no_delete BEFORE DELETE ON ledger_postings FOR EACH ROW SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'A posting is never removed';
--> statement-breakpoint
CREATE TRIGGER receipts_no_update BEFORE UPDATE ON receipts FOR EACH ROW SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'A receipt is never changed';
--> statement-breakpoint
CREATE TRIGGER receipts_no_delete BEFORE DELETE ON receipts FOR EACH ROW SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'A receipt is never removed';
--> statement-breakpoint
CREATE TRIGGER audit_no_update BEFORE UPDATE ON audit FOR EACH ROW SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'An audit row is never changed';
--> statement-breakpoint
CREATE TRIGGER audit_no_delete BEFORE DELETE ON audit FOR EACH ROW SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'An audit row is never removed';
--> statement-breakpoint
CREATE TRIGGER policy_versions_no_update BEFORE UPDATE ON policy_versions FOR EACH ROW SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'A policy version is never changed';
--> statement-breakpoint
INSERT INTO rights_counter (id, value) VALUES (1, 0);
--> statement-breakpoint
INSERT INTO business_clock (id, offset_ms) VALUES (1, 0);
--> statement-breakpoint
INSERT INTO settings (id, value) VALUES (1, '{"siteName":"Stile","statementName":"STILE","senderEmail":"stile@localhost.example","zone":"UTC","currency":"EUR","turnAway":{"answer":{"kind":"notice","text":[{"type":"paragraph","content":[{"type":"text","text":"This is for members."}]}]},"cases":{},"teaser":{"kind":"nothing"}},"limits":{"uses":{"count":5,"per":"period"},"minutes":"none","hours":"none"},"releaseHour":null,"lapseAfterDays":2}');

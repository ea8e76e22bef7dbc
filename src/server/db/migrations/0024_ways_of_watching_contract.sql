DROP TABLE `item_players`;--> statement-breakpoint
DROP TABLE `player_presets`;
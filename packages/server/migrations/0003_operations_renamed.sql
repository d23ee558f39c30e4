UPDATE `steps` SET `operation` = 'practice' WHERE `operation` = 'scan';--> statement-breakpoint
UPDATE `steps` SET `operation` = 'whereabouts' WHERE `operation` = 'places';--> statement-breakpoint
UPDATE `jobs` SET `payload` = json_set(`payload`, '$.operation', 'practice') WHERE json_extract(`payload`, '$.operation') = 'scan';--> statement-breakpoint
UPDATE `jobs` SET `payload` = json_set(`payload`, '$.operation', 'whereabouts') WHERE json_extract(`payload`, '$.operation') = 'places';--> statement-breakpoint
UPDATE `jobs` SET `payload` = replace(`payload`, '"operation":"scan"', '"operation":"practice"') WHERE `payload` LIKE '%"operation":"scan"%';

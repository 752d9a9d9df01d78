-- The weight brush fills a region: recipes called that tool by another word.
update edit set recipe = replace(recipe::text, '"tool": "flood"', '"tool": "fill"')::jsonb where recipe::text like '%"tool": "flood"%';
update plan set edits = replace(edits::text, '"tool": "flood"', '"tool": "fill"')::jsonb where edits::text like '%"tool": "flood"%';

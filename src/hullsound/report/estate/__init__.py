"""The estate as page, workbook, tables and document."""

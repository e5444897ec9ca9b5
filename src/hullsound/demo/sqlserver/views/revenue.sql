CREATE VIEW [sales].[v_Revenue]
AS
SELECT YEAR(p.PaidAt) AS [Year], MONTH(p.PaidAt) AS [Month], p.Method, SUM(p.Amount) AS Amount,
       COUNT(DISTINCT p.BookingId) AS Bookings
FROM sales.Payment p
WHERE ISNULL(p.Authorised, 1) = 1
GROUP BY YEAR(p.PaidAt), MONTH(p.PaidAt), p.Method WITH ROLLUP
GO
CREATE VIEW sales.v_RevenueByChannel
AS
SELECT [Year], [Month], [DESK], [WEB], [KIOSK], [PHONE]
FROM (
    SELECT YEAR(BookedAt) AS [Year], MONTH(BookedAt) AS [Month], Channel, TotalPrice FROM sales.Booking
) AS source
PIVOT (SUM(TotalPrice) FOR Channel IN ([DESK], [WEB], [KIOSK], [PHONE])) AS pivoted
GO
CREATE VIEW sales.v_Takings
AS
SELECT [Day], Desk, Kind, Amount
FROM (SELECT [Day], Desk, Cash, Card FROM sales.DailyTakings) AS t
UNPIVOT (Amount FOR Kind IN (Cash, Card)) AS u
GO
CREATE VIEW sales.v_Debtors
AS
SELECT TOP 100 PERCENT b.BookingId, c.FullName, b.TotalPrice, ISNULL(paid.Amount, 0) AS Paid,
       b.TotalPrice - ISNULL(paid.Amount, 0) AS Owed
FROM sales.Booking b
JOIN sales.Customer c ON c.CustomerId = b.CustomerId
LEFT JOIN (SELECT BookingId, SUM(Amount) AS Amount FROM sales.Payment GROUP BY BookingId) AS paid ON paid.BookingId = b.BookingId
WHERE b.TotalPrice > ISNULL(paid.Amount, 0)
ORDER BY Owed DESC
GO
CREATE VIEW sales.v_CustomerHistory
AS
SELECT c.CustomerId, c.Email, c.ValidFrom, c.ValidTo
FROM sales.Customer FOR SYSTEM_TIME ALL AS c
GO
CREATE VIEW sales.v_VoucherUse
AS
SELECT v.VoucherCode, v.Amount, v.Remaining,
       STUFF((SELECT ', ' + CAST(b.BookingId AS varchar(20)) FROM sales.Booking b
              WHERE b.CustomerId = v.IssuedTo FOR XML PATH('')), 1, 2, '') AS Bookings,
       STRING_AGG(CONVERT(varchar(10), p.PaidAt, 120), '; ') WITHIN GROUP (ORDER BY p.PaidAt) AS PaidOn
FROM sales.Voucher v
LEFT JOIN sales.Booking b2 ON b2.CustomerId = v.IssuedTo
LEFT JOIN sales.Payment p ON p.BookingId = b2.BookingId
GROUP BY v.VoucherCode, v.Amount, v.Remaining, v.IssuedTo
GO

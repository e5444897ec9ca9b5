/* Logins, users, roles and schemas.
   /* The kiosk account is locked down further by a trigger on logon. */
*/
IF NOT EXISTS (SELECT 1 FROM sys.server_principals WHERE name = N'ferry_app')
    CREATE LOGIN [ferry_app] WITH PASSWORD = N'change-me-Now1', DEFAULT_DATABASE = [FerryTicketing], CHECK_POLICY = ON
GO
IF NOT EXISTS (SELECT 1 FROM sys.server_principals WHERE name = N'HARBOUR\FerryDesk')
    CREATE LOGIN [HARBOUR\FerryDesk] FROM WINDOWS WITH DEFAULT_DATABASE = [FerryTicketing]
GO
CREATE SCHEMA [sales] AUTHORIZATION [dbo]
GO
CREATE SCHEMA [ops] AUTHORIZATION [dbo]
GO
CREATE SCHEMA [audit] AUTHORIZATION [dbo]
GO
CREATE USER [ferry_app] FOR LOGIN [ferry_app] WITH DEFAULT_SCHEMA = [sales]
CREATE USER [ferry_desk] FOR LOGIN [HARBOUR\FerryDesk]
CREATE ROLE [ticket_clerk] AUTHORIZATION [dbo]
CREATE ROLE [revenue_reader] AUTHORIZATION [dbo]
GO
ALTER ROLE [ticket_clerk] ADD MEMBER [ferry_desk]
ALTER ROLE [db_datareader] ADD MEMBER [ferry_desk]
EXEC sp_addrolemember N'revenue_reader', N'ferry_app'
GO
GRANT SELECT, INSERT, UPDATE ON SCHEMA::[sales] TO [ticket_clerk]
GRANT EXECUTE ON SCHEMA::[sales] TO [ferry_app] AS [dbo]
GRANT VIEW DEFINITION TO [revenue_reader]
DENY DELETE ON SCHEMA::[audit] TO [ticket_clerk]
GO
CREATE MASTER KEY ENCRYPTION BY PASSWORD = N'Another-secret-1'
GO
CREATE CERTIFICATE [CardCertificate] WITH SUBJECT = N'Masking of card numbers', EXPIRY_DATE = '20301231'
CREATE SYMMETRIC KEY [CardKey] WITH ALGORITHM = AES_256 ENCRYPTION BY CERTIFICATE [CardCertificate]
GO

-- Dump of the yard system of the Kestrel Bay harbour authority
--
-- Host: yarddb    Database: yard
-- ------------------------------------------------------
-- Server version	8.0.35

/*!40101 SET @OLD_CHARACTER_SET_CLIENT=@@CHARACTER_SET_CLIENT */;
/*!40101 SET @OLD_COLLATION_CONNECTION=@@COLLATION_CONNECTION */;
/*!50503 SET NAMES utf8mb4 */;
/*!40103 SET @OLD_TIME_ZONE=@@TIME_ZONE */;
/*!40103 SET TIME_ZONE='+00:00' */;
/*!40014 SET @OLD_UNIQUE_CHECKS=@@UNIQUE_CHECKS, UNIQUE_CHECKS=0 */;
/*!40014 SET @OLD_FOREIGN_KEY_CHECKS=@@FOREIGN_KEY_CHECKS, FOREIGN_KEY_CHECKS=0 */;
/*!40101 SET @OLD_SQL_MODE=@@SQL_MODE, SQL_MODE='NO_AUTO_VALUE_ON_ZERO' */;
/*!40111 SET @OLD_SQL_NOTES=@@SQL_NOTES, SQL_NOTES=0 */;

CREATE DATABASE /*!32312 IF NOT EXISTS*/ `yard` /*!40100 DEFAULT CHARACTER SET utf8mb4 COLLATE utf8mb4_0900_ai_ci */ /*!80016 DEFAULT ENCRYPTION='N' */;

USE `yard`;

--
-- Table structure for table `customer`
--

DROP TABLE IF EXISTS `customer`;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!50503 SET character_set_client = utf8mb4 */;
CREATE TABLE `customer` (
  `customer_id` int unsigned NOT NULL AUTO_INCREMENT,
  `name` varchar(80) NOT NULL,
  `town` varchar(60) DEFAULT NULL,
  `phone` varchar(30) DEFAULT NULL,
  `mail` varchar(120) CHARACTER SET latin1 COLLATE latin1_swedish_ci DEFAULT NULL,
  `is_blocked` tinyint(1) NOT NULL DEFAULT '0',
  `balance` decimal(12,2) NOT NULL DEFAULT '0.00',
  `remark` text,
  `created_at` datetime NOT NULL DEFAULT CURRENT_TIMESTAMP,
  `changed_at` timestamp NOT NULL DEFAULT CURRENT_TIMESTAMP ON UPDATE CURRENT_TIMESTAMP,
  PRIMARY KEY (`customer_id`),
  KEY `ix_customer_name` (`name`(20)),
  UNIQUE KEY `uk_customer_mail` (`mail`)
) ENGINE=InnoDB AUTO_INCREMENT=121 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_0900_ai_ci;
/*!40101 SET character_set_client = @saved_cs_client */;

--
-- Dumping data for table `customer`
--

LOCK TABLES `customer` WRITE;
/*!40000 ALTER TABLE `customer` DISABLE KEYS */;

INSERT INTO `customer` VALUES (1,'Orla Orla','TOWN1','PHONE1','MAIL1',2,181.28,'REMARK1','2024-02-06 01:13:00','2024-02-06 01:13:00'),(2,'Gunn Frey','TOWN2','PHONE2','MAIL2',3,321.76,'REMARK2','2024-03-11 02:26:00','2024-03-11 02:26:00'),(3,'Pell Frey','TOWN3','PHONE3','MAIL3',4,38.56,'REMARK3','2024-04-16 03:39:00','2024-04-16 03:39:00'),(4,'Jory Elin','TOWN4','PHONE4','MAIL4',5,37.18,'REMARK4','2024-05-21 04:52:00','2024-05-21 04:52:00'),(5,'Birk Moe','TOWN5','PHONE5','MAIL5',6,385.94,'REMARK5','2024-06-26 05:05:00','2024-06-26 05:05:00'),(6,'Frey Aske','TOWN6','PHONE6','MAIL6',7,332.85,'REMARK6','2024-07-03 06:18:00','2024-07-03 06:18:00'),(7,'Corin Birk','TOWN7','PHONE7','MAIL7',8,15.23,'REMARK7','2024-08-08 07:31:00','2024-08-08 07:31:00'),(8,'Hale Aske','TOWN8','PHONE8','MAIL8',9,311.47,'REMARK8','2024-09-13 08:44:00','2024-09-13 08:44:00'),(9,'Kari Orla','TOWN9','PHONE9','MAIL9',1,236.79,'REMARK9','2024-10-18 09:57:00','2024-10-18 09:57:00'),(10,'Gunn Hale','TOWN10','PHONE10','MAIL10',2,256.48,'REMARK10','2024-11-23 10:10:00','2024-11-23 10:10:00'),(11,'Pell Aske','TOWN11','PHONE11','MAIL11',3,265.32,'REMARK11','2024-12-28 11:23:00','2024-12-28 11:23:00'),(12,'Orla Ida','TOWN12','PHONE12','MAIL12',4,163.30,'REMARK12','2024-01-05 12:36:00','2024-01-05 12:36:00'),(13,'Corin Ida','TOWN13','PHONE13','MAIL13',5,126.80,'REMARK13','2024-02-10 13:49:00','2024-02-10 13:49:00'),(14,'Hale Jory','TOWN14','PHONE14','MAIL14',6,12.87,'REMARK14','2024-03-15 14:02:00','2024-03-15 14:02:00'),(15,'Dag Moe','TOWN15','PHONE15','MAIL15',7,44.01,'REMARK15','2024-04-20 15:15:00','2024-04-20 15:15:00'),(16,'Jory Moe','TOWN16','PHONE16','MAIL16',8,27.66,'REMARK16','2024-05-25 16:28:00','2024-05-25 16:28:00'),(17,'Aske Aske','TOWN17','PHONE17','MAIL17',9,86.19,'REMARK17','2024-06-02 17:41:00','2024-06-02 17:41:00'),(18,'Birk Pell','TOWN18','PHONE18','MAIL18',1,150.81,'REMARK18','2024-07-07 18:54:00','2024-07-07 18:54:00'),(19,'Moe Nils','TOWN19','PHONE19','MAIL19',2,30.14,'REMARK19','2024-08-12 19:07:00','2024-08-12 19:07:00'),(20,'Gunn Ida','TOWN20','PHONE20','MAIL20',3,135.42,'REMARK20','2024-09-17 20:20:00','2024-09-17 20:20:00'),(21,'Jory Kari','TOWN21','PHONE21','MAIL21',4,7.04,'REMARK21','2024-10-22 21:33:00','2024-10-22 21:33:00'),(22,'Nils Dag','TOWN22','PHONE22','MAIL22',5,54.70,'REMARK22','2024-11-27 22:46:00','2024-11-27 22:46:00'),(23,'Dag Aske','TOWN23','PHONE23','MAIL23',6,24.90,'REMARK23','2024-12-04 23:59:00','2024-12-04 23:59:00'),(24,'Pell Frey','TOWN24','PHONE24','MAIL24',7,273.15,'REMARK24','2024-01-09 00:12:00','2024-01-09 00:12:00'),(25,'Gunn Orla','TOWN25','PHONE25','MAIL25',8,204.04,'REMARK25','2024-02-14 01:25:00','2024-02-14 01:25:00'),(26,'Elin Nils','TOWN26','PHONE26','MAIL26',9,257.84,'REMARK26','2024-03-19 02:38:00','2024-03-19 02:38:00'),(27,'Dag Moe','TOWN27','PHONE27','MAIL27',1,168.88,'REMARK27','2024-04-24 03:51:00','2024-04-24 03:51:00'),(28,'Gunn Aske','TOWN28','PHONE28','MAIL28',2,108.65,'REMARK28','2024-05-01 04:04:00','2024-05-01 04:04:00'),(29,'Jory Aske','TOWN29','PHONE29','MAIL29',3,85.07,'REMARK29','2024-06-06 05:17:00','2024-06-06 05:17:00'),(30,'Moe Dag','TOWN30','PHONE30','MAIL30',4,17.80,'REMARK30','2024-07-11 06:30:00','2024-07-11 06:30:00'),(31,'Elin Gunn','TOWN31','PHONE31','MAIL31',5,177.18,'REMARK31','2024-08-16 07:43:00','2024-08-16 07:43:00'),(32,'Aske Kari','TOWN32','PHONE32','MAIL32',6,332.29,'REMARK32','2024-09-21 08:56:00','2024-09-21 08:56:00'),(33,'Moe Corin','TOWN33','PHONE33','MAIL33',7,30.64,'REMARK33','2024-10-26 09:09:00','2024-10-26 09:09:00'),(34,'Gunn Hale','TOWN34','PHONE34','MAIL34',8,7.19,'REMARK34','2024-11-03 10:22:00','2024-11-03 10:22:00'),(35,'Lund Lund','TOWN35','PHONE35','MAIL35',9,249.24,'REMARK35','2024-12-08 11:35:00','2024-12-08 11:35:00'),(36,'Elin Pell','TOWN36','PHONE36','MAIL36',1,333.11,'REMARK36','2024-01-13 12:48:00','2024-01-13 12:48:00'),(37,'Elin Moe','TOWN37','PHONE37','MAIL37',2,73.95,'REMARK37','2024-02-18 13:01:00','2024-02-18 13:01:00'),(38,'Elin Jory','TOWN38','PHONE38','MAIL38',3,363.46,'REMARK38','2024-03-23 14:14:00','2024-03-23 14:14:00'),(39,'Hale Gunn','TOWN39','PHONE39','MAIL39',4,64.23,'REMARK39','2024-04-28 15:27:00','2024-04-28 15:27:00'),(40,'Gunn Moe','TOWN40','PHONE40','MAIL40',5,352.99,'REMARK40','2024-05-05 16:40:00','2024-05-05 16:40:00'),(41,'Corin Nils','TOWN41','PHONE41','MAIL41',6,19.91,'REMARK41','2024-06-10 17:53:00','2024-06-10 17:53:00'),(42,'Dag Birk','TOWN42','PHONE42','MAIL42',7,205.43,'REMARK42','2024-07-15 18:06:00','2024-07-15 18:06:00'),(43,'Ida Hale','TOWN43','PHONE43','MAIL43',8,296.19,'REMARK43','2024-08-20 19:19:00','2024-08-20 19:19:00'),(44,'Moe Ida','TOWN44','PHONE44','MAIL44',9,168.91,'REMARK44','2024-09-25 20:32:00','2024-09-25 20:32:00'),(45,'Pell Jory','TOWN45','PHONE45','MAIL45',1,208.51,'REMARK45','2024-10-02 21:45:00','2024-10-02 21:45:00'),(46,'Corin Elin','TOWN46','PHONE46','MAIL46',2,92.13,'REMARK46','2024-11-07 22:58:00','2024-11-07 22:58:00'),(47,'Corin Ida','TOWN47','PHONE47','MAIL47',3,85.75,'REMARK47','2024-12-12 23:11:00','2024-12-12 23:11:00'),(48,'Gunn Aske','TOWN48','PHONE48','MAIL48',4,28.59,'REMARK48','2024-01-17 00:24:00','2024-01-17 00:24:00'),(49,'Nils Orla','TOWN49','PHONE49','MAIL49',5,100.38,'REMARK49','2024-02-22 01:37:00','2024-02-22 01:37:00'),(50,'Birk Frey','TOWN50','PHONE50','MAIL50',6,113.50,'REMARK50','2024-03-27 02:50:00','2024-03-27 02:50:00'),(51,'Elin Corin','TOWN51','PHONE51','MAIL51',7,145.50,'REMARK51','2024-04-04 03:03:00','2024-04-04 03:03:00'),(52,'Orla Kari','TOWN52','PHONE52','MAIL52',8,263.12,'REMARK52','2024-05-09 04:16:00','2024-05-09 04:16:00'),(53,'Elin Birk','TOWN53','PHONE53','MAIL53',9,369.51,'REMARK53','2024-06-14 05:29:00','2024-06-14 05:29:00'),(54,'Pell Lund','TOWN54','PHONE54','MAIL54',1,280.69,'REMARK54','2024-07-19 06:42:00','2024-07-19 06:42:00'),(55,'Birk Aske','TOWN55','PHONE55','MAIL55',2,239.75,'REMARK55','2024-08-24 07:55:00','2024-08-24 07:55:00'),(56,'Corin Pell','TOWN56','PHONE56','MAIL56',3,27.84,'REMARK56','2024-09-01 08:08:00','2024-09-01 08:08:00'),(57,'Jory Kari','TOWN57','PHONE57','MAIL57',4,55.51,'REMARK57','2024-10-06 09:21:00','2024-10-06 09:21:00'),(58,'Corin Corin','TOWN58','PHONE58','MAIL58',5,181.78,'REMARK58','2024-11-11 10:34:00','2024-11-11 10:34:00'),(59,'Lund Birk','TOWN59','PHONE59','MAIL59',6,360.18,'REMARK59','2024-12-16 11:47:00','2024-12-16 11:47:00'),(60,'Elin Kari','TOWN60','PHONE60','MAIL60',7,141.38,'REMARK60','2024-01-21 12:00:00','2024-01-21 12:00:00'),(61,'Pell Corin','TOWN61','PHONE61','MAIL61',8,348.57,'REMARK61','2024-02-26 13:13:00','2024-02-26 13:13:00'),(62,'Nils Aske','TOWN62','PHONE62','MAIL62',9,345.53,'REMARK62','2024-03-03 14:26:00','2024-03-03 14:26:00'),(63,'Aske Moe','TOWN63','PHONE63','MAIL63',1,152.29,'REMARK63','2024-04-08 15:39:00','2024-04-08 15:39:00'),(64,'Aske Corin','TOWN64','PHONE64','MAIL64',2,33.00,'REMARK64','2024-05-13 16:52:00','2024-05-13 16:52:00'),(65,'Dag Ida','TOWN65','PHONE65','MAIL65',3,352.04,'REMARK65','2024-06-18 17:05:00','2024-06-18 17:05:00'),(66,'Kari Moe','TOWN66','PHONE66','MAIL66',4,373.77,'REMARK66','2024-07-23 18:18:00','2024-07-23 18:18:00'),(67,'Orla Orla','TOWN67','PHONE67','MAIL67',5,185.59,'REMARK67','2024-08-28 19:31:00','2024-08-28 19:31:00'),(68,'Corin Aske','TOWN68','PHONE68','MAIL68',6,124.78,'REMARK68','2024-09-05 20:44:00','2024-09-05 20:44:00'),(69,'Corin Pell','TOWN69','PHONE69','MAIL69',7,9.89,'REMARK69','2024-10-10 21:57:00','2024-10-10 21:57:00'),(70,'Dag Pell','TOWN70','PHONE70','MAIL70',8,312.20,'REMARK70','2024-11-15 22:10:00','2024-11-15 22:10:00'),(71,'Pell Ida','TOWN71','PHONE71','MAIL71',9,358.67,'REMARK71','2024-12-20 23:23:00','2024-12-20 23:23:00'),(72,'Lund Jory','TOWN72','PHONE72','MAIL72',1,58.14,'REMARK72','2024-01-25 00:36:00','2024-01-25 00:36:00'),(73,'Gunn Frey','TOWN73','PHONE73','MAIL73',2,301.75,'REMARK73','2024-02-02 01:49:00','2024-02-02 01:49:00'),(74,'Kari Orla','TOWN74','PHONE74','MAIL74',3,199.83,'REMARK74','2024-03-07 02:02:00','2024-03-07 02:02:00'),(75,'Hale Kari','TOWN75','PHONE75','MAIL75',4,162.50,'REMARK75','2024-04-12 03:15:00','2024-04-12 03:15:00'),(76,'Ida Gunn','TOWN76','PHONE76','MAIL76',5,254.04,'REMARK76','2024-05-17 04:28:00','2024-05-17 04:28:00'),(77,'Gunn Gunn','TOWN77','PHONE77','MAIL77',6,154.38,'REMARK77','2024-06-22 05:41:00','2024-06-22 05:41:00'),(78,'Kari Gunn','TOWN78','PHONE78','MAIL78',7,55.33,'REMARK78','2024-07-27 06:54:00','2024-07-27 06:54:00'),(79,'Pell Lund','TOWN79','PHONE79','MAIL79',8,335.00,'REMARK79','2024-08-04 07:07:00','2024-08-04 07:07:00'),(80,'Birk Corin','TOWN80','PHONE80','MAIL80',9,380.05,'REMARK80','2024-09-09 08:20:00','2024-09-09 08:20:00'),(81,'Ida Frey','TOWN81','PHONE81','MAIL81',1,46.02,'REMARK81','2024-10-14 09:33:00','2024-10-14 09:33:00'),(82,'Pell Ida','TOWN82','PHONE82','MAIL82',2,370.37,'REMARK82','2024-11-19 10:46:00','2024-11-19 10:46:00'),(83,'Nils Moe','TOWN83','PHONE83','MAIL83',3,250.67,'REMARK83','2024-12-24 11:59:00','2024-12-24 11:59:00'),(84,'Pell Kari','TOWN84','PHONE84','MAIL84',4,286.79,'REMARK84','2024-01-01 12:12:00','2024-01-01 12:12:00'),(85,'Orla Kari','TOWN85','PHONE85','MAIL85',5,30.80,'REMARK85','2024-02-06 13:25:00','2024-02-06 13:25:00'),(86,'Birk Ida','TOWN86','PHONE86','MAIL86',6,349.26,'REMARK86','2024-03-11 14:38:00','2024-03-11 14:38:00'),(87,'Birk Ida','TOWN87','PHONE87','MAIL87',7,228.66,'REMARK87','2024-04-16 15:51:00','2024-04-16 15:51:00'),(88,'Jory Aske','TOWN88','PHONE88','MAIL88',8,256.75,'REMARK88','2024-05-21 16:04:00','2024-05-21 16:04:00'),(89,'Moe Orla','TOWN89','PHONE89','MAIL89',9,76.78,'REMARK89','2024-06-26 17:17:00','2024-06-26 17:17:00'),(90,'Ida Hale','TOWN90','PHONE90','MAIL90',1,311.92,'REMARK90','2024-07-03 18:30:00','2024-07-03 18:30:00'),(91,'Birk Dag','TOWN91','PHONE91','MAIL91',2,179.15,'REMARK91','2024-08-08 19:43:00','2024-08-08 19:43:00'),(92,'Lund Corin','TOWN92','PHONE92','MAIL92',3,274.11,'REMARK92','2024-09-13 20:56:00','2024-09-13 20:56:00'),(93,'Gunn Pell','TOWN93','PHONE93','MAIL93',4,103.16,'REMARK93','2024-10-18 21:09:00','2024-10-18 21:09:00'),(94,'Aske Pell','TOWN94','PHONE94','MAIL94',5,214.40,'REMARK94','2024-11-23 22:22:00','2024-11-23 22:22:00'),(95,'Birk Frey','TOWN95','PHONE95','MAIL95',6,91.36,'REMARK95','2024-12-28 23:35:00','2024-12-28 23:35:00'),(96,'Lund Frey','TOWN96','PHONE96','MAIL96',7,158.01,'REMARK96','2024-01-05 00:48:00','2024-01-05 00:48:00'),(97,'Hale Corin','TOWN97','PHONE97','MAIL97',8,164.78,'REMARK97','2024-02-10 01:01:00','2024-02-10 01:01:00'),(98,'Moe Elin','TOWN98','PHONE98','MAIL98',9,180.75,'REMARK98','2024-03-15 02:14:00','2024-03-15 02:14:00'),(99,'Gunn Aske','TOWN99','PHONE99','MAIL99',1,151.34,'REMARK99','2024-04-20 03:27:00','2024-04-20 03:27:00'),(100,'Kari Orla','TOWN100','PHONE100','MAIL100',2,131.26,'REMARK100','2024-05-25 04:40:00','2024-05-25 04:40:00'),(101,'Gunn Dag','TOWN101','PHONE101','MAIL101',3,289.05,'REMARK101','2024-06-02 05:53:00','2024-06-02 05:53:00'),(102,'Dag Gunn','TOWN102','PHONE102','MAIL102',4,97.67,'REMARK102','2024-07-07 06:06:00','2024-07-07 06:06:00'),(103,'Moe Corin','TOWN103','PHONE103','MAIL103',5,390.97,'REMARK103','2024-08-12 07:19:00','2024-08-12 07:19:00'),(104,'Kari Ida','TOWN104','PHONE104','MAIL104',6,364.09,'REMARK104','2024-09-17 08:32:00','2024-09-17 08:32:00'),(105,'Aske Lund','TOWN105','PHONE105','MAIL105',7,202.38,'REMARK105','2024-10-22 09:45:00','2024-10-22 09:45:00'),(106,'Birk Orla','TOWN106','PHONE106','MAIL106',8,137.48,'REMARK106','2024-11-27 10:58:00','2024-11-27 10:58:00'),(107,'Nils Ida','TOWN107','PHONE107','MAIL107',9,195.49,'REMARK107','2024-12-04 11:11:00','2024-12-04 11:11:00'),(108,'Aske Gunn','TOWN108','PHONE108','MAIL108',1,323.85,'REMARK108','2024-01-09 12:24:00','2024-01-09 12:24:00'),(109,'Corin Nils','TOWN109','PHONE109','MAIL109',2,320.14,'REMARK109','2024-02-14 13:37:00','2024-02-14 13:37:00'),(110,'Frey Kari','TOWN110','PHONE110','MAIL110',3,274.95,'REMARK110','2024-03-19 14:50:00','2024-03-19 14:50:00'),(111,'Elin Pell','TOWN111','PHONE111','MAIL111',4,60.32,'REMARK111','2024-04-24 15:03:00','2024-04-24 15:03:00'),(112,'Orla Pell','TOWN112','PHONE112','MAIL112',5,232.00,'REMARK112','2024-05-01 16:16:00','2024-05-01 16:16:00'),(113,'Corin Hale','TOWN113','PHONE113','MAIL113',6,176.33,'REMARK113','2024-06-06 17:29:00','2024-06-06 17:29:00'),(114,'Jory Frey','TOWN114','PHONE114','MAIL114',7,209.59,'REMARK114','2024-07-11 18:42:00','2024-07-11 18:42:00'),(115,'Ida Jory','TOWN115','PHONE115','MAIL115',8,268.85,'REMARK115','2024-08-16 19:55:00','2024-08-16 19:55:00'),(116,'Gunn Jory','TOWN116','PHONE116','MAIL116',9,340.46,'REMARK116','2024-09-21 20:08:00','2024-09-21 20:08:00'),(117,'Ida Pell','TOWN117','PHONE117','MAIL117',1,81.19,'REMARK117','2024-10-26 21:21:00','2024-10-26 21:21:00'),(118,'Dag Aske','TOWN118','PHONE118','MAIL118',2,242.49,'REMARK118','2024-11-03 22:34:00','2024-11-03 22:34:00'),(119,'Aske Birk','TOWN119','PHONE119','MAIL119',3,206.89,'REMARK119','2024-12-08 23:47:00','2024-12-08 23:47:00'),(120,'Moe Dag','TOWN120','PHONE120','MAIL120',4,196.93,'REMARK120','2024-01-13 00:00:00','2024-01-13 00:00:00');

/*!40000 ALTER TABLE `customer` ENABLE KEYS */;
UNLOCK TABLES;

--
-- Table structure for table `boat`
--

DROP TABLE IF EXISTS `boat`;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!50503 SET character_set_client = utf8mb4 */;
CREATE TABLE `boat` (
  `boat_id` int unsigned NOT NULL AUTO_INCREMENT,
  `customer_id` int unsigned NOT NULL,
  `boat_name` varchar(60) NOT NULL,
  `registration` varchar(20) CHARACTER SET latin1 COLLATE latin1_swedish_ci DEFAULT NULL,
  `old_number` int(5) unsigned zerofill DEFAULT NULL,
  `length_m` decimal(5,2) NOT NULL,
  `beam_m` decimal(4,2) DEFAULT NULL,
  `draught_m` float DEFAULT NULL,
  `weight_t` double(8,3) DEFAULT NULL,
  `hull` enum('steel','alu','wood','grp','other') NOT NULL DEFAULT 'grp',
  `equipment` set('crane','radar','sails','heater') DEFAULT NULL,
  `built` year(4) DEFAULT NULL,
  `wishes_lift` date DEFAULT NULL,
  `photo` mediumblob,
  PRIMARY KEY (`boat_id`),
  KEY `ix_boat_customer_id` (`customer_id`),
  CONSTRAINT `fk_boat_customer_id` FOREIGN KEY (`customer_id`) REFERENCES `customer` (`customer_id`)
) ENGINE=InnoDB AUTO_INCREMENT=161 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_0900_ai_ci;
/*!40101 SET character_set_client = @saved_cs_client */;

--
-- Dumping data for table `boat`
--

LOCK TABLES `boat` WRITE;
/*!40000 ALTER TABLE `boat` DISABLE KEYS */;

INSERT INTO `boat` VALUES (1,2,'Old Tern 1','REGIST1',2,372.40,184.12,368.39,320.36,'steel','radar,heater',1961,'2024-02-08',_binary 'x\'y\\z'),(2,3,'Lady Otter 2','REGIST2',3,99.26,197.72,136.53,360.46,'steel','radar,heater',1962,'2025-03-15',_binary 'x\'y\\z'),(3,4,'Lady Otter 3','REGIST3',4,44.34,168.40,12.74,104.83,'steel','radar,heater',1963,'2023-04-22',_binary 'x\'y\\z'),(4,5,'Sea Tern 4','REGIST4',5,78.45,91.68,275.13,129.51,'steel','radar,heater',1964,'2024-05-01',_binary 'x\'y\\z'),(5,6,'Blue Heron 5','REGIST5',6,248.29,42.85,292.63,49.99,'steel','radar,heater',1965,'2025-06-08',_binary 'x\'y\\z'),(6,7,'Blue Heron 6','REGIST6',7,280.85,351.61,10.28,253.57,'steel','radar,heater',1966,'2023-07-15',_binary 'x\'y\\z'),(7,8,'Old Heron 7','REGIST7',8,345.67,214.07,88.12,87.25,'steel','radar,heater',1967,'2024-08-22',_binary 'x\'y\\z'),(8,9,'Old Heron 8','REGIST8',9,366.01,251.53,139.69,73.27,'steel','radar,heater',1968,'2025-09-01',_binary 'x\'y\\z'),(9,1,'Blue Heron 9','REGIST9',1,88.04,399.34,355.13,54.44,'steel','radar,heater',1969,'2023-10-08',_binary 'x\'y\\z'),(10,2,'Old Heron 10','REGIST10',2,290.90,104.54,39.71,333.04,'steel','radar,heater',1970,'2024-11-15',_binary 'x\'y\\z'),(11,3,'Lady Heron 11','REGIST11',3,81.06,251.57,319.74,39.33,'steel','radar,heater',1971,'2025-12-22',_binary 'x\'y\\z'),(12,4,'Blue Otter 12','REGIST12',4,47.05,202.77,303.50,201.61,'steel','radar,heater',1972,'2023-01-01',_binary 'x\'y\\z'),(13,5,'Old Tern 13','REGIST13',5,193.35,10.70,305.04,245.73,'steel','radar,heater',1973,'2024-02-08',_binary 'x\'y\\z'),(14,6,'Lady Heron 14','REGIST14',6,76.64,46.86,69.82,64.05,'steel','radar,heater',1974,'2025-03-15',_binary 'x\'y\\z'),(15,7,'Blue Tern 15','REGIST15',7,232.33,54.65,272.71,31.96,'steel','radar,heater',1975,'2023-04-22',_binary 'x\'y\\z'),(16,8,'Sea Otter 16','REGIST16',8,156.96,171.15,142.47,84.82,'steel','radar,heater',1976,'2024-05-01',_binary 'x\'y\\z'),(17,9,'Blue Tern 17','REGIST17',9,253.97,17.31,80.91,163.77,'steel','radar,heater',1977,'2025-06-08',_binary 'x\'y\\z'),(18,1,'Blue Otter 18','REGIST18',1,162.72,78.86,66.87,205.51,'steel','radar,heater',1978,'2023-07-15',_binary 'x\'y\\z'),(19,2,'Sea Otter 19','REGIST19',2,357.38,320.88,282.16,344.43,'steel','radar,heater',1979,'2024-08-22',_binary 'x\'y\\z'),(20,3,'Lady Heron 20','REGIST20',3,202.21,393.09,322.12,104.05,'steel','radar,heater',1980,'2025-09-01',_binary 'x\'y\\z'),(21,4,'Sea Heron 21','REGIST21',4,326.04,162.85,358.72,352.06,'steel','radar,heater',1981,'2023-10-08',_binary 'x\'y\\z'),(22,5,'Blue Lark 22','REGIST22',5,306.33,162.89,289.33,29.15,'steel','radar,heater',1982,'2024-11-15',_binary 'x\'y\\z'),(23,6,'Blue Otter 23','REGIST23',6,188.07,5.23,142.90,255.85,'steel','radar,heater',1983,'2025-12-22',_binary 'x\'y\\z'),(24,7,'Sea Heron 24','REGIST24',7,109.92,384.61,120.25,87.20,'steel','radar,heater',1984,'2023-01-01',_binary 'x\'y\\z'),(25,8,'Lady Heron 25','REGIST25',8,213.70,156.45,399.95,257.26,'steel','radar,heater',1985,'2024-02-08',_binary 'x\'y\\z'),(26,9,'Sea Lark 26','REGIST26',9,392.05,10.11,246.54,295.78,'steel','radar,heater',1986,'2025-03-15',_binary 'x\'y\\z'),(27,1,'Blue Lark 27','REGIST27',1,161.22,21.13,78.98,150.90,'steel','radar,heater',1987,'2023-04-22',_binary 'x\'y\\z'),(28,2,'Sea Otter 28','REGIST28',2,101.10,362.35,220.47,203.62,'steel','radar,heater',1988,'2024-05-01',_binary 'x\'y\\z'),(29,3,'Sea Lark 29','REGIST29',3,324.00,31.40,239.42,303.94,'steel','radar,heater',1989,'2025-06-08',_binary 'x\'y\\z'),(30,4,'Sea Lark 30','REGIST30',4,372.13,64.81,189.23,68.48,'steel','radar,heater',1990,'2023-07-15',_binary 'x\'y\\z'),(31,5,'Lady Tern 31','REGIST31',5,172.40,198.32,114.49,160.03,'steel','radar,heater',1991,'2024-08-22',_binary 'x\'y\\z'),(32,6,'Blue Otter 32','REGIST32',6,212.63,193.81,108.63,371.86,'steel','radar,heater',1992,'2025-09-01',_binary 'x\'y\\z'),(33,7,'Blue Tern 33','REGIST33',7,6.59,98.76,18.07,63.48,'steel','radar,heater',1993,'2023-10-08',_binary 'x\'y\\z'),(34,8,'Lady Tern 34','REGIST34',8,359.12,299.60,21.01,395.52,'steel','radar,heater',1994,'2024-11-15',_binary 'x\'y\\z'),(35,9,'Blue Tern 35','REGIST35',9,319.24,90.26,287.93,101.12,'steel','radar,heater',1995,'2025-12-22',_binary 'x\'y\\z'),(36,1,'Old Tern 36','REGIST36',1,209.82,374.97,289.37,187.87,'steel','radar,heater',1996,'2023-01-01',_binary 'x\'y\\z'),(37,2,'Old Tern 37','REGIST37',2,21.11,167.45,48.07,344.59,'steel','radar,heater',1997,'2024-02-08',_binary 'x\'y\\z'),(38,3,'Blue Heron 38','REGIST38',3,50.61,177.70,267.49,182.77,'steel','radar,heater',1998,'2025-03-15',_binary 'x\'y\\z'),(39,4,'Blue Lark 39','REGIST39',4,146.24,297.80,326.24,55.65,'steel','radar,heater',1999,'2023-04-22',_binary 'x\'y\\z'),(40,5,'Blue Heron 40','REGIST40',5,96.13,46.43,357.19,313.94,'steel','radar,heater',2000,'2024-05-01',_binary 'x\'y\\z'),(41,6,'Blue Otter 41','REGIST41',6,109.33,274.33,226.39,237.08,'steel','radar,heater',2001,'2025-06-08',_binary 'x\'y\\z'),(42,7,'Blue Heron 42','REGIST42',7,76.74,100.34,391.91,366.37,'steel','radar,heater',2002,'2023-07-15',_binary 'x\'y\\z'),(43,8,'Sea Tern 43','REGIST43',8,4.78,104.55,11.73,16.18,'steel','radar,heater',2003,'2024-08-22',_binary 'x\'y\\z'),(44,9,'Old Otter 44','REGIST44',9,29.92,35.49,270.84,220.70,'steel','radar,heater',2004,'2025-09-01',_binary 'x\'y\\z'),(45,1,'Blue Lark 45','REGIST45',1,191.94,85.04,138.14,298.19,'steel','radar,heater',2005,'2023-10-08',_binary 'x\'y\\z'),(46,2,'Sea Tern 46','REGIST46',2,179.48,328.99,335.36,307.81,'steel','radar,heater',2006,'2024-11-15',_binary 'x\'y\\z'),(47,3,'Lady Lark 47','REGIST47',3,299.18,156.66,61.12,62.23,'steel','radar,heater',2007,'2025-12-22',_binary 'x\'y\\z'),(48,4,'Blue Otter 48','REGIST48',4,219.90,298.70,368.41,171.63,'steel','radar,heater',2008,'2023-01-01',_binary 'x\'y\\z'),(49,5,'Blue Tern 49','REGIST49',5,185.34,130.34,217.91,173.36,'steel','radar,heater',2009,'2024-02-08',_binary 'x\'y\\z'),(50,6,'Lady Lark 50','REGIST50',6,120.25,310.43,31.36,86.09,'steel','radar,heater',2010,'2025-03-15',_binary 'x\'y\\z'),(51,7,'Sea Otter 51','REGIST51',7,198.41,305.90,131.85,352.80,'steel','radar,heater',2011,'2023-04-22',_binary 'x\'y\\z'),(52,8,'Old Otter 52','REGIST52',8,263.25,131.50,362.60,129.66,'steel','radar,heater',2012,'2024-05-01',_binary 'x\'y\\z'),(53,9,'Lady Otter 53','REGIST53',9,175.76,321.42,122.60,127.73,'steel','radar,heater',2013,'2025-06-08',_binary 'x\'y\\z'),(54,1,'Lady Heron 54','REGIST54',1,34.63,331.58,10.62,271.12,'steel','radar,heater',2014,'2023-07-15',_binary 'x\'y\\z'),(55,2,'Lady Heron 55','REGIST55',2,295.79,147.93,156.71,62.76,'steel','radar,heater',2015,'2024-08-22',_binary 'x\'y\\z'),(56,3,'Old Heron 56','REGIST56',3,36.81,182.29,342.03,324.93,'steel','radar,heater',2016,'2025-09-01',_binary 'x\'y\\z'),(57,4,'Old Tern 57','REGIST57',4,218.12,227.42,386.60,260.83,'steel','radar,heater',2017,'2023-10-08',_binary 'x\'y\\z'),(58,5,'Lady Tern 58','REGIST58',5,233.20,122.88,218.64,134.47,'steel','radar,heater',2018,'2024-11-15',_binary 'x\'y\\z'),(59,6,'Blue Tern 59','REGIST59',6,359.73,34.80,254.02,58.41,'steel','radar,heater',2019,'2025-12-22',_binary 'x\'y\\z'),(60,7,'Lady Heron 60','REGIST60',7,285.17,196.11,363.19,135.93,'steel','radar,heater',1960,'2023-01-01',_binary 'x\'y\\z'),(61,8,'Lady Lark 61','REGIST61',8,140.83,323.10,133.85,55.55,'steel','radar,heater',1961,'2024-02-08',_binary 'x\'y\\z'),(62,9,'Lady Tern 62','REGIST62',9,283.55,366.08,164.83,330.67,'steel','radar,heater',1962,'2025-03-15',_binary 'x\'y\\z'),(63,1,'Blue Tern 63','REGIST63',1,322.56,333.70,355.57,383.16,'steel','radar,heater',1963,'2023-04-22',_binary 'x\'y\\z'),(64,2,'Sea Otter 64','REGIST64',2,284.32,321.10,169.22,168.76,'steel','radar,heater',1964,'2024-05-01',_binary 'x\'y\\z'),(65,3,'Old Heron 65','REGIST65',3,296.75,396.41,150.83,67.89,'steel','radar,heater',1965,'2025-06-08',_binary 'x\'y\\z'),(66,4,'Old Lark 66','REGIST66',4,170.55,117.52,387.93,24.62,'steel','radar,heater',1966,'2023-07-15',_binary 'x\'y\\z'),(67,5,'Blue Tern 67','REGIST67',5,122.10,63.05,367.97,364.97,'steel','radar,heater',1967,'2024-08-22',_binary 'x\'y\\z'),(68,6,'Lady Tern 68','REGIST68',6,234.04,363.81,15.51,44.36,'steel','radar,heater',1968,'2025-09-01',_binary 'x\'y\\z'),(69,7,'Old Otter 69','REGIST69',7,87.73,94.93,287.18,238.32,'steel','radar,heater',1969,'2023-10-08',_binary 'x\'y\\z'),(70,8,'Old Lark 70','REGIST70',8,74.81,113.14,69.83,303.24,'steel','radar,heater',1970,'2024-11-15',_binary 'x\'y\\z'),(71,9,'Blue Lark 71','REGIST71',9,341.50,194.42,161.64,382.32,'steel','radar,heater',1971,'2025-12-22',_binary 'x\'y\\z'),(72,1,'Sea Lark 72','REGIST72',1,345.17,160.37,87.75,54.58,'steel','radar,heater',1972,'2023-01-01',_binary 'x\'y\\z'),(73,2,'Lady Otter 73','REGIST73',2,315.28,24.12,369.78,356.99,'steel','radar,heater',1973,'2024-02-08',_binary 'x\'y\\z'),(74,3,'Lady Otter 74','REGIST74',3,180.56,99.37,169.15,350.06,'steel','radar,heater',1974,'2025-03-15',_binary 'x\'y\\z'),(75,4,'Lady Heron 75','REGIST75',4,309.00,58.75,363.33,324.19,'steel','radar,heater',1975,'2023-04-22',_binary 'x\'y\\z'),(76,5,'Old Otter 76','REGIST76',5,206.86,22.12,229.18,72.14,'steel','radar,heater',1976,'2024-05-01',_binary 'x\'y\\z'),(77,6,'Old Heron 77','REGIST77',6,329.01,33.89,108.70,286.89,'steel','radar,heater',1977,'2025-06-08',_binary 'x\'y\\z'),(78,7,'Sea Lark 78','REGIST78',7,277.78,34.06,299.69,217.82,'steel','radar,heater',1978,'2023-07-15',_binary 'x\'y\\z'),(79,8,'Blue Tern 79','REGIST79',8,315.94,167.37,366.79,37.29,'steel','radar,heater',1979,'2024-08-22',_binary 'x\'y\\z'),(80,9,'Lady Heron 80','REGIST80',9,15.85,165.85,198.18,378.69,'steel','radar,heater',1980,'2025-09-01',_binary 'x\'y\\z'),(81,1,'Blue Otter 81','REGIST81',1,124.99,31.33,122.97,187.42,'steel','radar,heater',1981,'2023-10-08',_binary 'x\'y\\z'),(82,2,'Sea Otter 82','REGIST82',2,30.66,57.08,267.40,270.67,'steel','radar,heater',1982,'2024-11-15',_binary 'x\'y\\z'),(83,3,'Sea Lark 83','REGIST83',3,5.93,151.47,284.29,95.75,'steel','radar,heater',1983,'2025-12-22',_binary 'x\'y\\z'),(84,4,'Sea Lark 84','REGIST84',4,308.96,342.57,337.96,287.97,'steel','radar,heater',1984,'2023-01-01',_binary 'x\'y\\z'),(85,5,'Old Otter 85','REGIST85',5,251.48,375.04,300.14,381.68,'steel','radar,heater',1985,'2024-02-08',_binary 'x\'y\\z'),(86,6,'Lady Tern 86','REGIST86',6,103.32,80.78,292.85,132.43,'steel','radar,heater',1986,'2025-03-15',_binary 'x\'y\\z'),(87,7,'Blue Lark 87','REGIST87',7,289.79,133.33,330.93,37.82,'steel','radar,heater',1987,'2023-04-22',_binary 'x\'y\\z'),(88,8,'Old Tern 88','REGIST88',8,53.44,252.53,72.52,78.07,'steel','radar,heater',1988,'2024-05-01',_binary 'x\'y\\z'),(89,9,'Sea Lark 89','REGIST89',9,237.50,36.95,91.41,63.68,'steel','radar,heater',1989,'2025-06-08',_binary 'x\'y\\z'),(90,1,'Sea Lark 90','REGIST90',1,163.33,30.00,368.33,171.38,'steel','radar,heater',1990,'2023-07-15',_binary 'x\'y\\z'),(91,2,'Old Heron 91','REGIST91',2,306.98,328.62,154.99,133.23,'steel','radar,heater',1991,'2024-08-22',_binary 'x\'y\\z'),(92,3,'Lady Tern 92','REGIST92',3,291.05,245.62,127.76,315.71,'steel','radar,heater',1992,'2025-09-01',_binary 'x\'y\\z'),(93,4,'Old Tern 93','REGIST93',4,105.03,76.32,123.40,177.05,'steel','radar,heater',1993,'2023-10-08',_binary 'x\'y\\z'),(94,5,'Lady Heron 94','REGIST94',5,204.24,315.63,330.25,244.96,'steel','radar,heater',1994,'2024-11-15',_binary 'x\'y\\z'),(95,6,'Old Otter 95','REGIST95',6,306.84,361.30,219.75,141.67,'steel','radar,heater',1995,'2025-12-22',_binary 'x\'y\\z'),(96,7,'Old Heron 96','REGIST96',7,394.72,206.90,286.44,334.37,'steel','radar,heater',1996,'2023-01-01',_binary 'x\'y\\z'),(97,8,'Old Tern 97','REGIST97',8,251.22,79.96,34.21,98.60,'steel','radar,heater',1997,'2024-02-08',_binary 'x\'y\\z'),(98,9,'Lady Otter 98','REGIST98',9,132.34,371.69,145.12,185.75,'steel','radar,heater',1998,'2025-03-15',_binary 'x\'y\\z'),(99,1,'Sea Lark 99','REGIST99',1,389.46,55.11,361.72,217.83,'steel','radar,heater',1999,'2023-04-22',_binary 'x\'y\\z'),(100,2,'Sea Otter 100','REGIST100',2,68.25,298.54,358.89,134.55,'steel','radar,heater',2000,'2024-05-01',_binary 'x\'y\\z'),(101,3,'Old Tern 101','REGIST101',3,373.66,2.52,274.34,146.09,'steel','radar,heater',2001,'2025-06-08',_binary 'x\'y\\z'),(102,4,'Blue Heron 102','REGIST102',4,75.04,219.59,31.43,13.78,'steel','radar,heater',2002,'2023-07-15',_binary 'x\'y\\z'),(103,5,'Old Heron 103','REGIST103',5,123.75,268.82,295.33,153.27,'steel','radar,heater',2003,'2024-08-22',_binary 'x\'y\\z'),(104,6,'Sea Heron 104','REGIST104',6,80.61,187.74,58.05,155.16,'steel','radar,heater',2004,'2025-09-01',_binary 'x\'y\\z'),(105,7,'Lady Heron 105','REGIST105',7,135.16,53.46,98.41,372.75,'steel','radar,heater',2005,'2023-10-08',_binary 'x\'y\\z'),(106,8,'Sea Tern 106','REGIST106',8,288.93,315.22,161.87,199.52,'steel','radar,heater',2006,'2024-11-15',_binary 'x\'y\\z'),(107,9,'Sea Lark 107','REGIST107',9,138.83,358.78,365.31,226.35,'steel','radar,heater',2007,'2025-12-22',_binary 'x\'y\\z'),(108,1,'Lady Otter 108','REGIST108',1,194.83,397.85,335.46,342.16,'steel','radar,heater',2008,'2023-01-01',_binary 'x\'y\\z'),(109,2,'Lady Lark 109','REGIST109',2,47.83,46.74,375.64,132.82,'steel','radar,heater',2009,'2024-02-08',_binary 'x\'y\\z'),(110,3,'Lady Lark 110','REGIST110',3,361.81,128.96,22.82,290.51,'steel','radar,heater',2010,'2025-03-15',_binary 'x\'y\\z'),(111,4,'Lady Lark 111','REGIST111',4,239.41,301.00,122.60,237.78,'steel','radar,heater',2011,'2023-04-22',_binary 'x\'y\\z'),(112,5,'Sea Heron 112','REGIST112',5,50.65,179.34,201.55,159.29,'steel','radar,heater',2012,'2024-05-01',_binary 'x\'y\\z'),(113,6,'Sea Lark 113','REGIST113',6,278.27,210.96,96.42,123.21,'steel','radar,heater',2013,'2025-06-08',_binary 'x\'y\\z'),(114,7,'Lady Heron 114','REGIST114',7,352.02,399.71,292.59,348.72,'steel','radar,heater',2014,'2023-07-15',_binary 'x\'y\\z'),(115,8,'Blue Lark 115','REGIST115',8,226.02,66.49,260.15,169.21,'steel','radar,heater',2015,'2024-08-22',_binary 'x\'y\\z'),(116,9,'Sea Tern 116','REGIST116',9,40.33,317.15,50.39,215.50,'steel','radar,heater',2016,'2025-09-01',_binary 'x\'y\\z'),(117,1,'Lady Tern 117','REGIST117',1,119.15,291.54,10.55,69.63,'steel','radar,heater',2017,'2023-10-08',_binary 'x\'y\\z'),(118,2,'Lady Lark 118','REGIST118',2,326.36,159.50,143.24,234.62,'steel','radar,heater',2018,'2024-11-15',_binary 'x\'y\\z'),(119,3,'Sea Otter 119','REGIST119',3,13.42,359.51,123.83,199.87,'steel','radar,heater',2019,'2025-12-22',_binary 'x\'y\\z'),(120,4,'Lady Heron 120','REGIST120',4,81.87,343.74,277.32,24.53,'steel','radar,heater',1960,'2023-01-01',_binary 'x\'y\\z'),(121,5,'Blue Otter 121','REGIST121',5,359.83,7.40,254.52,279.47,'steel','radar,heater',1961,'2024-02-08',_binary 'x\'y\\z'),(122,6,'Old Heron 122','REGIST122',6,77.41,352.19,20.95,43.33,'steel','radar,heater',1962,'2025-03-15',_binary 'x\'y\\z'),(123,7,'Blue Otter 123','REGIST123',7,347.96,285.54,54.82,278.68,'steel','radar,heater',1963,'2023-04-22',_binary 'x\'y\\z'),(124,8,'Lady Lark 124','REGIST124',8,32.52,90.07,123.56,284.50,'steel','radar,heater',1964,'2024-05-01',_binary 'x\'y\\z'),(125,9,'Old Otter 125','REGIST125',9,73.23,94.94,266.17,316.41,'steel','radar,heater',1965,'2025-06-08',_binary 'x\'y\\z'),(126,1,'Blue Tern 126','REGIST126',1,236.37,92.37,121.07,370.77,'steel','radar,heater',1966,'2023-07-15',_binary 'x\'y\\z'),(127,2,'Old Otter 127','REGIST127',2,53.89,267.45,185.63,31.43,'steel','radar,heater',1967,'2024-08-22',_binary 'x\'y\\z'),(128,3,'Sea Tern 128','REGIST128',3,3.78,235.04,215.36,169.96,'steel','radar,heater',1968,'2025-09-01',_binary 'x\'y\\z'),(129,4,'Sea Heron 129','REGIST129',4,114.78,302.52,99.11,112.36,'steel','radar,heater',1969,'2023-10-08',_binary 'x\'y\\z'),(130,5,'Sea Heron 130','REGIST130',5,316.36,61.16,359.26,249.14,'steel','radar,heater',1970,'2024-11-15',_binary 'x\'y\\z'),(131,6,'Lady Tern 131','REGIST131',6,371.78,200.46,72.78,222.85,'steel','radar,heater',1971,'2025-12-22',_binary 'x\'y\\z'),(132,7,'Blue Otter 132','REGIST132',7,263.65,313.42,207.18,202.75,'steel','radar,heater',1972,'2023-01-01',_binary 'x\'y\\z'),(133,8,'Old Heron 133','REGIST133',8,45.73,174.79,267.71,219.58,'steel','radar,heater',1973,'2024-02-08',_binary 'x\'y\\z'),(134,9,'Blue Heron 134','REGIST134',9,104.61,218.12,341.20,241.72,'steel','radar,heater',1974,'2025-03-15',_binary 'x\'y\\z'),(135,1,'Blue Tern 135','REGIST135',1,81.80,388.28,21.95,179.90,'steel','radar,heater',1975,'2023-04-22',_binary 'x\'y\\z'),(136,2,'Old Otter 136','REGIST136',2,61.57,8.10,198.95,174.42,'steel','radar,heater',1976,'2024-05-01',_binary 'x\'y\\z'),(137,3,'Lady Otter 137','REGIST137',3,342.81,13.34,46.60,72.11,'steel','radar,heater',1977,'2025-06-08',_binary 'x\'y\\z'),(138,4,'Old Heron 138','REGIST138',4,22.54,170.72,278.56,328.04,'steel','radar,heater',1978,'2023-07-15',_binary 'x\'y\\z'),(139,5,'Blue Lark 139','REGIST139',5,36.30,328.40,69.47,102.68,'steel','radar,heater',1979,'2024-08-22',_binary 'x\'y\\z'),(140,6,'Old Lark 140','REGIST140',6,276.58,332.54,314.90,25.40,'steel','radar,heater',1980,'2025-09-01',_binary 'x\'y\\z'),(141,7,'Lady Lark 141','REGIST141',7,146.40,87.32,388.24,17.80,'steel','radar,heater',1981,'2023-10-08',_binary 'x\'y\\z'),(142,8,'Lady Heron 142','REGIST142',8,58.69,182.67,298.23,16.65,'steel','radar,heater',1982,'2024-11-15',_binary 'x\'y\\z'),(143,9,'Old Lark 143','REGIST143',9,356.14,57.48,157.78,119.93,'steel','radar,heater',1983,'2025-12-22',_binary 'x\'y\\z'),(144,1,'Lady Tern 144','REGIST144',1,388.68,272.26,287.09,390.45,'steel','radar,heater',1984,'2023-01-01',_binary 'x\'y\\z'),(145,2,'Old Otter 145','REGIST145',2,102.03,221.20,97.43,185.16,'steel','radar,heater',1985,'2024-02-08',_binary 'x\'y\\z'),(146,3,'Old Otter 146','REGIST146',3,124.21,378.62,369.34,88.11,'steel','radar,heater',1986,'2025-03-15',_binary 'x\'y\\z'),(147,4,'Old Lark 147','REGIST147',4,234.51,397.90,295.24,227.39,'steel','radar,heater',1987,'2023-04-22',_binary 'x\'y\\z'),(148,5,'Old Lark 148','REGIST148',5,344.12,374.24,86.11,152.11,'steel','radar,heater',1988,'2024-05-01',_binary 'x\'y\\z'),(149,6,'Sea Heron 149','REGIST149',6,167.97,99.35,317.52,321.86,'steel','radar,heater',1989,'2025-06-08',_binary 'x\'y\\z'),(150,7,'Lady Heron 150','REGIST150',7,160.69,237.96,304.08,189.55,'steel','radar,heater',1990,'2023-07-15',_binary 'x\'y\\z'),(151,8,'Lady Heron 151','REGIST151',8,345.23,82.63,153.80,30.04,'steel','radar,heater',1991,'2024-08-22',_binary 'x\'y\\z'),(152,9,'Blue Otter 152','REGIST152',9,379.54,248.77,208.04,296.91,'steel','radar,heater',1992,'2025-09-01',_binary 'x\'y\\z'),(153,1,'Lady Heron 153','REGIST153',1,108.18,145.08,62.25,374.72,'steel','radar,heater',1993,'2023-10-08',_binary 'x\'y\\z'),(154,2,'Blue Heron 154','REGIST154',2,306.51,289.66,362.92,9.14,'steel','radar,heater',1994,'2024-11-15',_binary 'x\'y\\z'),(155,3,'Blue Lark 155','REGIST155',3,180.52,341.97,153.17,103.25,'steel','radar,heater',1995,'2025-12-22',_binary 'x\'y\\z'),(156,4,'Sea Otter 156','REGIST156',4,158.20,96.08,17.29,61.20,'steel','radar,heater',1996,'2023-01-01',_binary 'x\'y\\z'),(157,5,'Old Tern 157','REGIST157',5,84.20,164.86,191.97,277.91,'steel','radar,heater',1997,'2024-02-08',_binary 'x\'y\\z'),(158,6,'Blue Otter 158','REGIST158',6,290.47,266.80,59.73,82.72,'steel','radar,heater',1998,'2025-03-15',_binary 'x\'y\\z'),(159,7,'Blue Lark 159','REGIST159',7,162.72,155.22,346.52,91.19,'steel','radar,heater',1999,'2023-04-22',_binary 'x\'y\\z'),(160,8,'Blue Otter 160','REGIST160',8,138.64,87.09,17.24,10.79,'steel','radar,heater',2000,'2024-05-01',_binary 'x\'y\\z');

/*!40000 ALTER TABLE `boat` ENABLE KEYS */;
UNLOCK TABLES;

--
-- Table structure for table `berth`
--

DROP TABLE IF EXISTS `berth`;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!50503 SET character_set_client = utf8mb4 */;
CREATE TABLE `berth` (
  `berth_id` smallint unsigned NOT NULL AUTO_INCREMENT,
  `area` char(2) NOT NULL,
  `number` smallint NOT NULL,
  `max_length_m` decimal(5,2) NOT NULL,
  `has_power` bit(1) NOT NULL DEFAULT b'1',
  `place` point NOT NULL,
  PRIMARY KEY (`berth_id`),
  UNIQUE KEY `uk_berth_area` (`area`,`number`),
  SPATIAL KEY `sx_berth` (`place`)
) ENGINE=InnoDB AUTO_INCREMENT=61 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_0900_ai_ci;
/*!40101 SET character_set_client = @saved_cs_client */;

--
-- Dumping data for table `berth`
--

LOCK TABLES `berth` WRITE;
/*!40000 ALTER TABLE `berth` DISABLE KEYS */;

INSERT INTO `berth` VALUES (1,'AR',1,252.53,b'1',ST_GeomFromText('POINT(-3.201 57.601)'));

INSERT INTO `berth` VALUES (2,'AR',2,226.81,b'1',ST_GeomFromText('POINT(-3.202 57.602)'));

INSERT INTO `berth` VALUES (3,'AR',3,323.70,b'1',ST_GeomFromText('POINT(-3.203 57.603)'));

INSERT INTO `berth` VALUES (4,'AR',4,390.26,b'1',ST_GeomFromText('POINT(-3.204 57.604)'));

INSERT INTO `berth` VALUES (5,'AR',5,119.94,b'1',ST_GeomFromText('POINT(-3.205 57.605)'));

INSERT INTO `berth` VALUES (6,'AR',6,268.53,b'1',ST_GeomFromText('POINT(-3.206 57.606)'));

INSERT INTO `berth` VALUES (7,'AR',7,367.71,b'1',ST_GeomFromText('POINT(-3.207 57.607)'));

INSERT INTO `berth` VALUES (8,'AR',8,87.27,b'1',ST_GeomFromText('POINT(-3.208 57.608)'));

INSERT INTO `berth` VALUES (9,'AR',9,276.00,b'1',ST_GeomFromText('POINT(-3.209 57.609)'));

INSERT INTO `berth` VALUES (10,'AR',10,266.97,b'1',ST_GeomFromText('POINT(-3.210 57.610)'));

INSERT INTO `berth` VALUES (11,'AR',11,382.10,b'1',ST_GeomFromText('POINT(-3.211 57.611)'));

INSERT INTO `berth` VALUES (12,'AR',12,347.48,b'1',ST_GeomFromText('POINT(-3.212 57.612)'));

INSERT INTO `berth` VALUES (13,'AR',13,94.61,b'1',ST_GeomFromText('POINT(-3.213 57.613)'));

INSERT INTO `berth` VALUES (14,'AR',14,253.38,b'1',ST_GeomFromText('POINT(-3.214 57.614)'));

INSERT INTO `berth` VALUES (15,'AR',15,36.87,b'1',ST_GeomFromText('POINT(-3.215 57.615)'));

INSERT INTO `berth` VALUES (16,'AR',16,171.65,b'1',ST_GeomFromText('POINT(-3.216 57.616)'));

INSERT INTO `berth` VALUES (17,'AR',17,157.58,b'1',ST_GeomFromText('POINT(-3.217 57.617)'));

INSERT INTO `berth` VALUES (18,'AR',18,24.98,b'1',ST_GeomFromText('POINT(-3.218 57.618)'));

INSERT INTO `berth` VALUES (19,'AR',19,153.96,b'1',ST_GeomFromText('POINT(-3.219 57.619)'));

INSERT INTO `berth` VALUES (20,'AR',20,131.95,b'1',ST_GeomFromText('POINT(-3.220 57.620)'));

INSERT INTO `berth` VALUES (21,'AR',21,199.35,b'1',ST_GeomFromText('POINT(-3.221 57.621)'));

INSERT INTO `berth` VALUES (22,'AR',22,112.65,b'1',ST_GeomFromText('POINT(-3.222 57.622)'));

INSERT INTO `berth` VALUES (23,'AR',23,64.28,b'1',ST_GeomFromText('POINT(-3.223 57.623)'));

INSERT INTO `berth` VALUES (24,'AR',24,161.58,b'1',ST_GeomFromText('POINT(-3.224 57.624)'));

INSERT INTO `berth` VALUES (25,'AR',25,190.61,b'1',ST_GeomFromText('POINT(-3.225 57.625)'));

INSERT INTO `berth` VALUES (26,'AR',26,67.52,b'1',ST_GeomFromText('POINT(-3.226 57.626)'));

INSERT INTO `berth` VALUES (27,'AR',27,266.42,b'1',ST_GeomFromText('POINT(-3.227 57.627)'));

INSERT INTO `berth` VALUES (28,'AR',28,96.68,b'1',ST_GeomFromText('POINT(-3.228 57.628)'));

INSERT INTO `berth` VALUES (29,'AR',29,38.13,b'1',ST_GeomFromText('POINT(-3.229 57.629)'));

INSERT INTO `berth` VALUES (30,'AR',30,137.39,b'1',ST_GeomFromText('POINT(-3.230 57.630)'));

INSERT INTO `berth` VALUES (31,'AR',31,169.50,b'1',ST_GeomFromText('POINT(-3.231 57.631)'));

INSERT INTO `berth` VALUES (32,'AR',32,61.17,b'1',ST_GeomFromText('POINT(-3.232 57.632)'));

INSERT INTO `berth` VALUES (33,'AR',33,233.47,b'1',ST_GeomFromText('POINT(-3.233 57.633)'));

INSERT INTO `berth` VALUES (34,'AR',34,280.85,b'1',ST_GeomFromText('POINT(-3.234 57.634)'));

INSERT INTO `berth` VALUES (35,'AR',35,221.72,b'1',ST_GeomFromText('POINT(-3.235 57.635)'));

INSERT INTO `berth` VALUES (36,'AR',36,280.37,b'1',ST_GeomFromText('POINT(-3.236 57.636)'));

INSERT INTO `berth` VALUES (37,'AR',37,10.19,b'1',ST_GeomFromText('POINT(-3.237 57.637)'));

INSERT INTO `berth` VALUES (38,'AR',38,157.16,b'1',ST_GeomFromText('POINT(-3.238 57.638)'));

INSERT INTO `berth` VALUES (39,'AR',39,146.35,b'1',ST_GeomFromText('POINT(-3.239 57.639)'));

INSERT INTO `berth` VALUES (40,'AR',40,26.11,b'1',ST_GeomFromText('POINT(-3.240 57.640)'));

INSERT INTO `berth` VALUES (41,'AR',41,162.34,b'1',ST_GeomFromText('POINT(-3.241 57.641)'));

INSERT INTO `berth` VALUES (42,'AR',42,22.79,b'1',ST_GeomFromText('POINT(-3.242 57.642)'));

INSERT INTO `berth` VALUES (43,'AR',43,198.73,b'1',ST_GeomFromText('POINT(-3.243 57.643)'));

INSERT INTO `berth` VALUES (44,'AR',44,234.77,b'1',ST_GeomFromText('POINT(-3.244 57.644)'));

INSERT INTO `berth` VALUES (45,'AR',45,188.11,b'1',ST_GeomFromText('POINT(-3.245 57.645)'));

INSERT INTO `berth` VALUES (46,'AR',46,130.89,b'1',ST_GeomFromText('POINT(-3.246 57.646)'));

INSERT INTO `berth` VALUES (47,'AR',47,102.10,b'1',ST_GeomFromText('POINT(-3.247 57.647)'));

INSERT INTO `berth` VALUES (48,'AR',48,10.39,b'1',ST_GeomFromText('POINT(-3.248 57.648)'));

INSERT INTO `berth` VALUES (49,'AR',49,139.49,b'1',ST_GeomFromText('POINT(-3.249 57.649)'));

INSERT INTO `berth` VALUES (50,'AR',50,356.81,b'1',ST_GeomFromText('POINT(-3.250 57.650)'));

INSERT INTO `berth` VALUES (51,'AR',51,226.72,b'1',ST_GeomFromText('POINT(-3.251 57.651)'));

INSERT INTO `berth` VALUES (52,'AR',52,105.50,b'1',ST_GeomFromText('POINT(-3.252 57.652)'));

INSERT INTO `berth` VALUES (53,'AR',53,267.56,b'1',ST_GeomFromText('POINT(-3.253 57.653)'));

INSERT INTO `berth` VALUES (54,'AR',54,75.22,b'1',ST_GeomFromText('POINT(-3.254 57.654)'));

INSERT INTO `berth` VALUES (55,'AR',55,188.23,b'1',ST_GeomFromText('POINT(-3.255 57.655)'));

INSERT INTO `berth` VALUES (56,'AR',56,246.49,b'1',ST_GeomFromText('POINT(-3.256 57.656)'));

INSERT INTO `berth` VALUES (57,'AR',57,381.91,b'1',ST_GeomFromText('POINT(-3.257 57.657)'));

INSERT INTO `berth` VALUES (58,'AR',58,145.69,b'1',ST_GeomFromText('POINT(-3.258 57.658)'));

INSERT INTO `berth` VALUES (59,'AR',59,230.89,b'1',ST_GeomFromText('POINT(-3.259 57.659)'));

INSERT INTO `berth` VALUES (60,'AR',60,377.01,b'1',ST_GeomFromText('POINT(-3.260 57.660)'));

/*!40000 ALTER TABLE `berth` ENABLE KEYS */;
UNLOCK TABLES;

--
-- Table structure for table `lay_up`
--

DROP TABLE IF EXISTS `lay_up`;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!50503 SET character_set_client = utf8mb4 */;
CREATE TABLE `lay_up` (
  `lay_up_id` int unsigned NOT NULL AUTO_INCREMENT,
  `boat_id` int unsigned NOT NULL,
  `berth_id` smallint unsigned NOT NULL,
  `lifted_at` datetime NOT NULL,
  `launched_at` datetime DEFAULT NULL,
  `moved_at` datetime DEFAULT NULL,
  `price_month` decimal(8,2) NOT NULL DEFAULT '0.00' COMMENT 'crowns per month, without tax',
  PRIMARY KEY (`lay_up_id`),
  KEY `ix_lay_up_boat_id` (`boat_id`),
  KEY `ix_lay_up_berth_id` (`berth_id`,`lifted_at`),
  CONSTRAINT `fk_lay_up_boat_id` FOREIGN KEY (`boat_id`) REFERENCES `boat` (`boat_id`)
) ENGINE=InnoDB AUTO_INCREMENT=2 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_0900_ai_ci COMMENT='Boats ashore';
/*!40101 SET character_set_client = @saved_cs_client */;

--
-- Table structure for table `hoist`
--

DROP TABLE IF EXISTS `hoist`;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!50503 SET character_set_client = utf8mb4 */;
CREATE TABLE `hoist` (
  `hoist_id` tinyint unsigned NOT NULL AUTO_INCREMENT,
  `hoist_name` varchar(30) NOT NULL,
  `limit_t` decimal(6,1) NOT NULL,
  `inspected_on` date NOT NULL DEFAULT '0000-00-00',
  PRIMARY KEY (`hoist_id`)
) ENGINE=InnoDB AUTO_INCREMENT=3 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_0900_ai_ci;
/*!40101 SET character_set_client = @saved_cs_client */;

--
-- Dumping data for table `hoist`
--

LOCK TABLES `hoist` WRITE;
/*!40000 ALTER TABLE `hoist` DISABLE KEYS */;

INSERT INTO `hoist` VALUES (1,'HOIST_1',308.82,'2024-02-08');

INSERT INTO `hoist` VALUES (2,'HOIST_2',251.31,'2025-03-15');

/*!40000 ALTER TABLE `hoist` ENABLE KEYS */;
UNLOCK TABLES;

--
-- Table structure for table `lift`
--

DROP TABLE IF EXISTS `lift`;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!50503 SET character_set_client = utf8mb4 */;
CREATE TABLE `lift` (
  `lift_id` int unsigned NOT NULL AUTO_INCREMENT,
  `hoist_id` tinyint unsigned NOT NULL,
  `boat_id` int unsigned NOT NULL,
  `planned_at` datetime NOT NULL,
  `done_at` datetime DEFAULT NULL,
  `driver_id` smallint unsigned DEFAULT NULL,
  PRIMARY KEY (`lift_id`),
  CONSTRAINT `fk_lift_hoist_id` FOREIGN KEY (`hoist_id`) REFERENCES `hoist` (`hoist_id`) ON DELETE CASCADE,
  CONSTRAINT `fk_lift_boat_id` FOREIGN KEY (`boat_id`) REFERENCES `boat` (`boat_id`) ON DELETE CASCADE
) ENGINE=InnoDB AUTO_INCREMENT=2 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_0900_ai_ci;
/*!40101 SET character_set_client = @saved_cs_client */;

--
-- Table structure for table `movement`
--

DROP TABLE IF EXISTS `movement`;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!50503 SET character_set_client = utf8mb4 */;
CREATE TABLE `movement` (
  `movement_id` bigint unsigned NOT NULL AUTO_INCREMENT,
  `boat_id` int unsigned NOT NULL,
  `from_berth` smallint unsigned DEFAULT NULL,
  `to_berth` smallint unsigned DEFAULT NULL,
  `moved_at` datetime NOT NULL,
  PRIMARY KEY (`movement_id`),
  KEY `ix_movement_moved_at` (`moved_at`)
) ENGINE=InnoDB AUTO_INCREMENT=2 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_0900_ai_ci;
/*!40101 SET character_set_client = @saved_cs_client */;

--
-- Table structure for table `worker`
--

DROP TABLE IF EXISTS `worker`;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!50503 SET character_set_client = utf8mb4 */;
CREATE TABLE `worker` (
  `worker_id` smallint unsigned NOT NULL AUTO_INCREMENT,
  `worker_name` varchar(60) NOT NULL,
  `trade` varchar(20) NOT NULL,
  `week_hours` decimal(4,1) NOT NULL DEFAULT '40.0',
  `hired_on` date NOT NULL,
  `left_on` date DEFAULT NULL,
  `pin` binary(16) DEFAULT NULL,
  PRIMARY KEY (`worker_id`)
) ENGINE=InnoDB AUTO_INCREMENT=15 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_0900_ai_ci;
/*!40101 SET character_set_client = @saved_cs_client */;

--
-- Dumping data for table `worker`
--

LOCK TABLES `worker` WRITE;
/*!40000 ALTER TABLE `worker` DISABLE KEYS */;

INSERT INTO `worker` VALUES (1,'Nils Nils','TRADE1',26.39,'2024-02-08','2024-02-08',NULL);

INSERT INTO `worker` VALUES (2,'Corin Orla','TRADE2',352.01,'2025-03-15','2025-03-15',NULL);

INSERT INTO `worker` VALUES (3,'Moe Moe','TRADE3',16.22,'2023-04-22','2023-04-22',NULL);

INSERT INTO `worker` VALUES (4,'Elin Ida','TRADE4',124.13,'2024-05-01','2024-05-01',NULL);

INSERT INTO `worker` VALUES (5,'Lund Pell','TRADE5',390.81,'2025-06-08','2025-06-08',NULL);

INSERT INTO `worker` VALUES (6,'Elin Gunn','TRADE6',108.65,'2023-07-15','2023-07-15',NULL);

INSERT INTO `worker` VALUES (7,'Ida Hale','TRADE7',94.59,'2024-08-22','2024-08-22',NULL);

INSERT INTO `worker` VALUES (8,'Aske Moe','TRADE8',2.40,'2025-09-01','2025-09-01',NULL);

INSERT INTO `worker` VALUES (9,'Pell Corin','TRADE9',250.13,'2023-10-08','2023-10-08',NULL);

INSERT INTO `worker` VALUES (10,'Kari Ida','TRADE10',139.32,'2024-11-15','2024-11-15',NULL);

INSERT INTO `worker` VALUES (11,'Aske Kari','TRADE11',322.44,'2025-12-22','2025-12-22',NULL);

INSERT INTO `worker` VALUES (12,'Gunn Moe','TRADE12',274.93,'2023-01-01','2023-01-01',NULL);

INSERT INTO `worker` VALUES (13,'Gunn Frey','TRADE13',64.63,'2024-02-08','2024-02-08',NULL);

INSERT INTO `worker` VALUES (14,'Pell Jory','TRADE14',148.44,'2025-03-15','2025-03-15',NULL);

/*!40000 ALTER TABLE `worker` ENABLE KEYS */;
UNLOCK TABLES;

--
-- Table structure for table `hourly_rate`
--

DROP TABLE IF EXISTS `hourly_rate`;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!50503 SET character_set_client = utf8mb4 */;
CREATE TABLE `hourly_rate` (
  `trade` varchar(20) NOT NULL,
  `valid_from` date NOT NULL,
  `rate` decimal(8,2) NOT NULL,
  PRIMARY KEY (`trade`,`valid_from`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_0900_ai_ci;
/*!40101 SET character_set_client = @saved_cs_client */;

--
-- Table structure for table `task`
--

DROP TABLE IF EXISTS `task`;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!50503 SET character_set_client = utf8mb4 */;
CREATE TABLE `task` (
  `task_code` char(6) NOT NULL,
  `task_name` varchar(80) NOT NULL,
  `trade` varchar(20) NOT NULL,
  `kinds` varchar(60) NOT NULL,
  `usual_hours` decimal(5,2) NOT NULL DEFAULT '1.00',
  `sort_order` smallint NOT NULL DEFAULT '0',
  PRIMARY KEY (`task_code`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_0900_ai_ci;
/*!40101 SET character_set_client = @saved_cs_client */;

--
-- Dumping data for table `task`
--

LOCK TABLES `task` WRITE;
/*!40000 ALTER TABLE `task` DISABLE KEYS */;

INSERT INTO `task` VALUES ('T0001','TASK_N1','TRADE1','KINDS1',115.00,2);

INSERT INTO `task` VALUES ('T0002','TASK_N2','TRADE2','KINDS2',299.84,3);

INSERT INTO `task` VALUES ('T0003','TASK_N3','TRADE3','KINDS3',214.06,4);

INSERT INTO `task` VALUES ('T0004','TASK_N4','TRADE4','KINDS4',95.57,5);

INSERT INTO `task` VALUES ('T0005','TASK_N5','TRADE5','KINDS5',100.47,6);

INSERT INTO `task` VALUES ('T0006','TASK_N6','TRADE6','KINDS6',130.67,7);

INSERT INTO `task` VALUES ('T0007','TASK_N7','TRADE7','KINDS7',71.94,8);

INSERT INTO `task` VALUES ('T0008','TASK_N8','TRADE8','KINDS8',205.98,9);

INSERT INTO `task` VALUES ('T0009','TASK_N9','TRADE9','KINDS9',51.27,1);

INSERT INTO `task` VALUES ('T0010','TASK_N10','TRADE10','KINDS10',26.23,2);

INSERT INTO `task` VALUES ('T0011','TASK_N11','TRADE11','KINDS11',28.40,3);

INSERT INTO `task` VALUES ('T0012','TASK_N12','TRADE12','KINDS12',41.79,4);

INSERT INTO `task` VALUES ('T0013','TASK_N13','TRADE13','KINDS13',282.21,5);

INSERT INTO `task` VALUES ('T0014','TASK_N14','TRADE14','KINDS14',46.00,6);

INSERT INTO `task` VALUES ('T0015','TASK_N15','TRADE15','KINDS15',181.18,7);

INSERT INTO `task` VALUES ('T0016','TASK_N16','TRADE16','KINDS16',309.07,8);

INSERT INTO `task` VALUES ('T0017','TASK_N17','TRADE17','KINDS17',192.80,9);

INSERT INTO `task` VALUES ('T0018','TASK_N18','TRADE18','KINDS18',65.87,1);

INSERT INTO `task` VALUES ('T0019','TASK_N19','TRADE19','KINDS19',346.65,2);

INSERT INTO `task` VALUES ('T0020','TASK_N20','TRADE20','KINDS20',348.06,3);

INSERT INTO `task` VALUES ('T0021','TASK_N21','TRADE21','KINDS21',22.32,4);

INSERT INTO `task` VALUES ('T0022','TASK_N22','TRADE22','KINDS22',102.30,5);

INSERT INTO `task` VALUES ('T0023','TASK_N23','TRADE23','KINDS23',203.47,6);

INSERT INTO `task` VALUES ('T0024','TASK_N24','TRADE24','KINDS24',318.79,7);

/*!40000 ALTER TABLE `task` ENABLE KEYS */;
UNLOCK TABLES;

--
-- Table structure for table `work_order`
--

DROP TABLE IF EXISTS `work_order`;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!50503 SET character_set_client = utf8mb4 */;
CREATE TABLE `work_order` (
  `order_id` int unsigned NOT NULL AUTO_INCREMENT,
  `boat_id` int unsigned NOT NULL,
  `customer_id` int unsigned NOT NULL,
  `kind` varchar(20) NOT NULL,
  `status` enum('open','started','closed','invoiced') NOT NULL DEFAULT 'open',
  `wished_by` date DEFAULT NULL,
  `description` longtext,
  `opened_at` datetime NOT NULL,
  `closed_at` datetime DEFAULT NULL,
  `total` decimal(12,2) DEFAULT NULL,
  PRIMARY KEY (`order_id`),
  KEY `ix_work_order_status` (`status`,`wished_by`),
  KEY `ix_work_order_boat_id` (`boat_id`),
  CONSTRAINT `fk_work_order_boat_id` FOREIGN KEY (`boat_id`) REFERENCES `boat` (`boat_id`),
  CONSTRAINT `fk_work_order_customer_id` FOREIGN KEY (`customer_id`) REFERENCES `customer` (`customer_id`)
) ENGINE=InnoDB AUTO_INCREMENT=91 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_0900_ai_ci;
/*!40101 SET character_set_client = @saved_cs_client */;

--
-- Dumping data for table `work_order`
--

LOCK TABLES `work_order` WRITE;
/*!40000 ALTER TABLE `work_order` DISABLE KEYS */;

INSERT INTO `work_order` VALUES (1,2,2,'KIND1','open','2024-02-08',NULL,'2024-02-06 01:13:00','2024-02-06 01:13:00',157.52),(2,3,3,'KIND2','open','2025-03-15',NULL,'2024-03-11 02:26:00','2024-03-11 02:26:00',286.66),(3,4,4,'KIND3','open','2023-04-22',NULL,'2024-04-16 03:39:00','2024-04-16 03:39:00',101.47),(4,5,5,'KIND4','open','2024-05-01',NULL,'2024-05-21 04:52:00','2024-05-21 04:52:00',286.57),(5,6,6,'KIND5','open','2025-06-08',NULL,'2024-06-26 05:05:00','2024-06-26 05:05:00',131.42),(6,7,7,'KIND6','open','2023-07-15',NULL,'2024-07-03 06:18:00','2024-07-03 06:18:00',134.20),(7,8,8,'KIND7','open','2024-08-22',NULL,'2024-08-08 07:31:00','2024-08-08 07:31:00',303.94),(8,9,9,'KIND8','open','2025-09-01',NULL,'2024-09-13 08:44:00','2024-09-13 08:44:00',337.24),(9,1,1,'KIND9','open','2023-10-08',NULL,'2024-10-18 09:57:00','2024-10-18 09:57:00',331.59),(10,2,2,'KIND10','open','2024-11-15',NULL,'2024-11-23 10:10:00','2024-11-23 10:10:00',227.42),(11,3,3,'KIND11','open','2025-12-22',NULL,'2024-12-28 11:23:00','2024-12-28 11:23:00',168.82),(12,4,4,'KIND12','open','2023-01-01',NULL,'2024-01-05 12:36:00','2024-01-05 12:36:00',283.06),(13,5,5,'KIND13','open','2024-02-08',NULL,'2024-02-10 13:49:00','2024-02-10 13:49:00',249.57),(14,6,6,'KIND14','open','2025-03-15',NULL,'2024-03-15 14:02:00','2024-03-15 14:02:00',332.57),(15,7,7,'KIND15','open','2023-04-22',NULL,'2024-04-20 15:15:00','2024-04-20 15:15:00',320.69),(16,8,8,'KIND16','open','2024-05-01',NULL,'2024-05-25 16:28:00','2024-05-25 16:28:00',50.96),(17,9,9,'KIND17','open','2025-06-08',NULL,'2024-06-02 17:41:00','2024-06-02 17:41:00',151.40),(18,1,1,'KIND18','open','2023-07-15',NULL,'2024-07-07 18:54:00','2024-07-07 18:54:00',268.07),(19,2,2,'KIND19','open','2024-08-22',NULL,'2024-08-12 19:07:00','2024-08-12 19:07:00',93.19),(20,3,3,'KIND20','open','2025-09-01',NULL,'2024-09-17 20:20:00','2024-09-17 20:20:00',74.67),(21,4,4,'KIND21','open','2023-10-08',NULL,'2024-10-22 21:33:00','2024-10-22 21:33:00',6.47),(22,5,5,'KIND22','open','2024-11-15',NULL,'2024-11-27 22:46:00','2024-11-27 22:46:00',234.63),(23,6,6,'KIND23','open','2025-12-22',NULL,'2024-12-04 23:59:00','2024-12-04 23:59:00',376.46),(24,7,7,'KIND24','open','2023-01-01',NULL,'2024-01-09 00:12:00','2024-01-09 00:12:00',388.20),(25,8,8,'KIND25','open','2024-02-08',NULL,'2024-02-14 01:25:00','2024-02-14 01:25:00',54.37),(26,9,9,'KIND26','open','2025-03-15',NULL,'2024-03-19 02:38:00','2024-03-19 02:38:00',275.35),(27,1,1,'KIND27','open','2023-04-22',NULL,'2024-04-24 03:51:00','2024-04-24 03:51:00',168.30),(28,2,2,'KIND28','open','2024-05-01',NULL,'2024-05-01 04:04:00','2024-05-01 04:04:00',252.95),(29,3,3,'KIND29','open','2025-06-08',NULL,'2024-06-06 05:17:00','2024-06-06 05:17:00',159.29),(30,4,4,'KIND30','open','2023-07-15',NULL,'2024-07-11 06:30:00','2024-07-11 06:30:00',373.42),(31,5,5,'KIND31','open','2024-08-22',NULL,'2024-08-16 07:43:00','2024-08-16 07:43:00',395.53),(32,6,6,'KIND32','open','2025-09-01',NULL,'2024-09-21 08:56:00','2024-09-21 08:56:00',20.43),(33,7,7,'KIND33','open','2023-10-08',NULL,'2024-10-26 09:09:00','2024-10-26 09:09:00',285.59),(34,8,8,'KIND34','open','2024-11-15',NULL,'2024-11-03 10:22:00','2024-11-03 10:22:00',48.24),(35,9,9,'KIND35','open','2025-12-22',NULL,'2024-12-08 11:35:00','2024-12-08 11:35:00',17.92),(36,1,1,'KIND36','open','2023-01-01',NULL,'2024-01-13 12:48:00','2024-01-13 12:48:00',115.13),(37,2,2,'KIND37','open','2024-02-08',NULL,'2024-02-18 13:01:00','2024-02-18 13:01:00',292.76),(38,3,3,'KIND38','open','2025-03-15',NULL,'2024-03-23 14:14:00','2024-03-23 14:14:00',397.46),(39,4,4,'KIND39','open','2023-04-22',NULL,'2024-04-28 15:27:00','2024-04-28 15:27:00',48.94),(40,5,5,'KIND40','open','2024-05-01',NULL,'2024-05-05 16:40:00','2024-05-05 16:40:00',132.69),(41,6,6,'KIND41','open','2025-06-08',NULL,'2024-06-10 17:53:00','2024-06-10 17:53:00',11.58),(42,7,7,'KIND42','open','2023-07-15',NULL,'2024-07-15 18:06:00','2024-07-15 18:06:00',217.48),(43,8,8,'KIND43','open','2024-08-22',NULL,'2024-08-20 19:19:00','2024-08-20 19:19:00',193.73),(44,9,9,'KIND44','open','2025-09-01',NULL,'2024-09-25 20:32:00','2024-09-25 20:32:00',150.00),(45,1,1,'KIND45','open','2023-10-08',NULL,'2024-10-02 21:45:00','2024-10-02 21:45:00',124.37),(46,2,2,'KIND46','open','2024-11-15',NULL,'2024-11-07 22:58:00','2024-11-07 22:58:00',320.39),(47,3,3,'KIND47','open','2025-12-22',NULL,'2024-12-12 23:11:00','2024-12-12 23:11:00',335.64),(48,4,4,'KIND48','open','2023-01-01',NULL,'2024-01-17 00:24:00','2024-01-17 00:24:00',114.21),(49,5,5,'KIND49','open','2024-02-08',NULL,'2024-02-22 01:37:00','2024-02-22 01:37:00',157.28),(50,6,6,'KIND50','open','2025-03-15',NULL,'2024-03-27 02:50:00','2024-03-27 02:50:00',247.49),(51,7,7,'KIND51','open','2023-04-22',NULL,'2024-04-04 03:03:00','2024-04-04 03:03:00',306.38),(52,8,8,'KIND52','open','2024-05-01',NULL,'2024-05-09 04:16:00','2024-05-09 04:16:00',392.41),(53,9,9,'KIND53','open','2025-06-08',NULL,'2024-06-14 05:29:00','2024-06-14 05:29:00',156.35),(54,1,1,'KIND54','open','2023-07-15',NULL,'2024-07-19 06:42:00','2024-07-19 06:42:00',277.93),(55,2,2,'KIND55','open','2024-08-22',NULL,'2024-08-24 07:55:00','2024-08-24 07:55:00',218.83),(56,3,3,'KIND56','open','2025-09-01',NULL,'2024-09-01 08:08:00','2024-09-01 08:08:00',320.27),(57,4,4,'KIND57','open','2023-10-08',NULL,'2024-10-06 09:21:00','2024-10-06 09:21:00',59.61),(58,5,5,'KIND58','open','2024-11-15',NULL,'2024-11-11 10:34:00','2024-11-11 10:34:00',70.86),(59,6,6,'KIND59','open','2025-12-22',NULL,'2024-12-16 11:47:00','2024-12-16 11:47:00',43.74),(60,7,7,'KIND60','open','2023-01-01',NULL,'2024-01-21 12:00:00','2024-01-21 12:00:00',373.48),(61,8,8,'KIND61','open','2024-02-08',NULL,'2024-02-26 13:13:00','2024-02-26 13:13:00',101.30),(62,9,9,'KIND62','open','2025-03-15',NULL,'2024-03-03 14:26:00','2024-03-03 14:26:00',195.82),(63,1,1,'KIND63','open','2023-04-22',NULL,'2024-04-08 15:39:00','2024-04-08 15:39:00',49.03),(64,2,2,'KIND64','open','2024-05-01',NULL,'2024-05-13 16:52:00','2024-05-13 16:52:00',130.14),(65,3,3,'KIND65','open','2025-06-08',NULL,'2024-06-18 17:05:00','2024-06-18 17:05:00',8.68),(66,4,4,'KIND66','open','2023-07-15',NULL,'2024-07-23 18:18:00','2024-07-23 18:18:00',226.80),(67,5,5,'KIND67','open','2024-08-22',NULL,'2024-08-28 19:31:00','2024-08-28 19:31:00',58.31),(68,6,6,'KIND68','open','2025-09-01',NULL,'2024-09-05 20:44:00','2024-09-05 20:44:00',250.49),(69,7,7,'KIND69','open','2023-10-08',NULL,'2024-10-10 21:57:00','2024-10-10 21:57:00',110.33),(70,8,8,'KIND70','open','2024-11-15',NULL,'2024-11-15 22:10:00','2024-11-15 22:10:00',91.80),(71,9,9,'KIND71','open','2025-12-22',NULL,'2024-12-20 23:23:00','2024-12-20 23:23:00',193.40),(72,1,1,'KIND72','open','2023-01-01',NULL,'2024-01-25 00:36:00','2024-01-25 00:36:00',146.97),(73,2,2,'KIND73','open','2024-02-08',NULL,'2024-02-02 01:49:00','2024-02-02 01:49:00',104.57),(74,3,3,'KIND74','open','2025-03-15',NULL,'2024-03-07 02:02:00','2024-03-07 02:02:00',21.44),(75,4,4,'KIND75','open','2023-04-22',NULL,'2024-04-12 03:15:00','2024-04-12 03:15:00',26.69),(76,5,5,'KIND76','open','2024-05-01',NULL,'2024-05-17 04:28:00','2024-05-17 04:28:00',357.17),(77,6,6,'KIND77','open','2025-06-08',NULL,'2024-06-22 05:41:00','2024-06-22 05:41:00',124.43),(78,7,7,'KIND78','open','2023-07-15',NULL,'2024-07-27 06:54:00','2024-07-27 06:54:00',32.29),(79,8,8,'KIND79','open','2024-08-22',NULL,'2024-08-04 07:07:00','2024-08-04 07:07:00',73.82),(80,9,9,'KIND80','open','2025-09-01',NULL,'2024-09-09 08:20:00','2024-09-09 08:20:00',193.89),(81,1,1,'KIND81','open','2023-10-08',NULL,'2024-10-14 09:33:00','2024-10-14 09:33:00',398.87),(82,2,2,'KIND82','open','2024-11-15',NULL,'2024-11-19 10:46:00','2024-11-19 10:46:00',81.68),(83,3,3,'KIND83','open','2025-12-22',NULL,'2024-12-24 11:59:00','2024-12-24 11:59:00',347.03),(84,4,4,'KIND84','open','2023-01-01',NULL,'2024-01-01 12:12:00','2024-01-01 12:12:00',194.22),(85,5,5,'KIND85','open','2024-02-08',NULL,'2024-02-06 13:25:00','2024-02-06 13:25:00',166.42),(86,6,6,'KIND86','open','2025-03-15',NULL,'2024-03-11 14:38:00','2024-03-11 14:38:00',323.00),(87,7,7,'KIND87','open','2023-04-22',NULL,'2024-04-16 15:51:00','2024-04-16 15:51:00',158.98),(88,8,8,'KIND88','open','2024-05-01',NULL,'2024-05-21 16:04:00','2024-05-21 16:04:00',24.00),(89,9,9,'KIND89','open','2025-06-08',NULL,'2024-06-26 17:17:00','2024-06-26 17:17:00',220.67),(90,1,1,'KIND90','open','2023-07-15',NULL,'2024-07-03 18:30:00','2024-07-03 18:30:00',263.10);

/*!40000 ALTER TABLE `work_order` ENABLE KEYS */;
UNLOCK TABLES;

--
-- Table structure for table `order_line`
--

DROP TABLE IF EXISTS `order_line`;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!50503 SET character_set_client = utf8mb4 */;
CREATE TABLE `order_line` (
  `order_id` int unsigned NOT NULL,
  `line_no` smallint NOT NULL,
  `task_code` char(6) NOT NULL,
  `hours_planned` decimal(6,2) DEFAULT NULL,
  `hours_done` decimal(6,2) DEFAULT NULL,
  `hourly_rate` decimal(8,2) DEFAULT NULL,
  PRIMARY KEY (`order_id`,`line_no`),
  CONSTRAINT `fk_order_line_order_id` FOREIGN KEY (`order_id`) REFERENCES `work_order` (`order_id`) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_0900_ai_ci;
/*!40101 SET character_set_client = @saved_cs_client */;

--
-- Table structure for table `time_sheet`
--

DROP TABLE IF EXISTS `time_sheet`;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!50503 SET character_set_client = utf8mb4 */;
CREATE TABLE `time_sheet` (
  `sheet_id` int unsigned NOT NULL AUTO_INCREMENT,
  `order_id` int unsigned NOT NULL,
  `worker_id` smallint unsigned NOT NULL,
  `worked_on` date NOT NULL,
  `hours` decimal(4,2) NOT NULL,
  `note` varchar(200) DEFAULT NULL,
  PRIMARY KEY (`sheet_id`),
  KEY `ix_time_sheet_day` (`worked_on`) USING BTREE,
  CONSTRAINT `fk_time_sheet_order_id` FOREIGN KEY (`order_id`) REFERENCES `work_order` (`order_id`),
  CONSTRAINT `fk_time_sheet_worker_id` FOREIGN KEY (`worker_id`) REFERENCES `worker` (`worker_id`)
) ENGINE=InnoDB AUTO_INCREMENT=2 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_0900_ai_ci;
/*!40101 SET character_set_client = @saved_cs_client */;

--
-- Table structure for table `part_group`
--

DROP TABLE IF EXISTS `part_group`;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!50503 SET character_set_client = utf8mb4 */;
CREATE TABLE `part_group` (
  `part_group` varchar(12) NOT NULL,
  `group_name` varchar(60) NOT NULL,
  `rise_percent` decimal(5,2) NOT NULL DEFAULT '0.00',
  PRIMARY KEY (`part_group`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_0900_ai_ci;
/*!40101 SET character_set_client = @saved_cs_client */;

--
-- Dumping data for table `part_group`
--

LOCK TABLES `part_group` WRITE;
/*!40000 ALTER TABLE `part_group` DISABLE KEYS */;

INSERT INTO `part_group` VALUES ('ANODE','GROUP_1',249.59);

INSERT INTO `part_group` VALUES ('ROPE','GROUP_2',111.57);

INSERT INTO `part_group` VALUES ('PAINT','GROUP_3',375.61);

INSERT INTO `part_group` VALUES ('SHACK','GROUP_4',345.97);

INSERT INTO `part_group` VALUES ('PUMP','GROUP_5',397.72);

INSERT INTO `part_group` VALUES ('LAMP','GROUP_6',177.84);

INSERT INTO `part_group` VALUES ('SEAL','GROUP_7',333.65);

INSERT INTO `part_group` VALUES ('BOLT','GROUP_8',290.26);

INSERT INTO `part_group` VALUES ('FILT','GROUP_9',71.16);

INSERT INTO `part_group` VALUES ('BATT','GROUP_10',11.69);

/*!40000 ALTER TABLE `part_group` ENABLE KEYS */;
UNLOCK TABLES;

--
-- Table structure for table `part`
--

DROP TABLE IF EXISTS `part`;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!50503 SET character_set_client = utf8mb4 */;
CREATE TABLE `part` (
  `part_id` int unsigned NOT NULL AUTO_INCREMENT,
  `part_group` varchar(12) NOT NULL,
  `part_code` varchar(24) CHARACTER SET latin1 COLLATE latin1_swedish_ci NOT NULL,
  `part_name` varchar(120) NOT NULL,
  `ean` bigint(13) unsigned DEFAULT NULL,
  `price` decimal(10,2) NOT NULL,
  `stock` int NOT NULL DEFAULT '0',
  `min_stock` int NOT NULL DEFAULT '0',
  `discontinued` bit(1) NOT NULL DEFAULT b'0',
  `remark` text,
  PRIMARY KEY (`part_id`),
  UNIQUE KEY `uk_part_part_code` (`part_code`),
  KEY `ix_part_part_group` (`part_group`),
  CONSTRAINT `fk_part_part_group` FOREIGN KEY (`part_group`) REFERENCES `part_group` (`part_group`)
) ENGINE=InnoDB AUTO_INCREMENT=181 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_0900_ai_ci;
/*!40101 SET character_set_client = @saved_cs_client */;

--
-- Dumping data for table `part`
--

LOCK TABLES `part` WRITE;
/*!40000 ALTER TABLE `part` DISABLE KEYS */;

INSERT INTO `part` VALUES (1,'ROPE','PART_C1','Mooring rope no. 1',2,68.37,2,2,b'1','REMARK1'),(2,'PAINT','PART_C2','Bottom paint no. 2',3,48.39,3,3,b'1','REMARK2'),(3,'SHACK','PART_C3','Shackle no. 3',4,30.79,4,4,b'1','REMARK3'),(4,'PUMP','PART_C4','Bilge pump no. 4',5,144.21,5,5,b'1','REMARK4'),(5,'LAMP','PART_C5','Navigation lamp no. 5',6,301.67,6,6,b'1','REMARK5'),(6,'SEAL','PART_C6','Shaft seal no. 6',7,124.69,7,7,b'1','REMARK6'),(7,'BOLT','PART_C7','Keel bolt no. 7',8,206.18,8,8,b'1','REMARK7'),(8,'FILT','PART_C8','Oil filter no. 8',9,5.18,9,9,b'1','REMARK8'),(9,'BATT','PART_C9','Battery no. 9',1,84.85,1,1,b'1','REMARK9'),(10,'ANODE','PART_C10','Zinc anode no. 10',2,383.75,2,2,b'1','REMARK10'),(11,'ROPE','PART_C11','Mooring rope no. 11',3,5.40,3,3,b'1','REMARK11'),(12,'PAINT','PART_C12','Bottom paint no. 12',4,211.37,4,4,b'1','REMARK12'),(13,'SHACK','PART_C13','Shackle no. 13',5,324.24,5,5,b'1','REMARK13'),(14,'PUMP','PART_C14','Bilge pump no. 14',6,317.12,6,6,b'1','REMARK14'),(15,'LAMP','PART_C15','Navigation lamp no. 15',7,294.43,7,7,b'1','REMARK15'),(16,'SEAL','PART_C16','Shaft seal no. 16',8,160.31,8,8,b'1','REMARK16'),(17,'BOLT','PART_C17','Keel bolt no. 17',9,321.43,9,9,b'1','REMARK17'),(18,'FILT','PART_C18','Oil filter no. 18',1,331.24,1,1,b'1','REMARK18'),(19,'BATT','PART_C19','Battery no. 19',2,307.32,2,2,b'1','REMARK19'),(20,'ANODE','PART_C20','Zinc anode no. 20',3,394.39,3,3,b'1','REMARK20'),(21,'ROPE','PART_C21','Mooring rope no. 21',4,41.23,4,4,b'1','REMARK21'),(22,'PAINT','PART_C22','Bottom paint no. 22',5,380.20,5,5,b'1','REMARK22'),(23,'SHACK','PART_C23','Shackle no. 23',6,161.50,6,6,b'1','REMARK23'),(24,'PUMP','PART_C24','Bilge pump no. 24',7,282.40,7,7,b'1','REMARK24'),(25,'LAMP','PART_C25','Navigation lamp no. 25',8,100.95,8,8,b'1','REMARK25'),(26,'SEAL','PART_C26','Shaft seal no. 26',9,363.95,9,9,b'1','REMARK26'),(27,'BOLT','PART_C27','Keel bolt no. 27',1,10.37,1,1,b'1','REMARK27'),(28,'FILT','PART_C28','Oil filter no. 28',2,231.15,2,2,b'1','REMARK28'),(29,'BATT','PART_C29','Battery no. 29',3,91.67,3,3,b'1','REMARK29'),(30,'ANODE','PART_C30','Zinc anode no. 30',4,155.97,4,4,b'1','REMARK30'),(31,'ROPE','PART_C31','Mooring rope no. 31',5,148.36,5,5,b'1','REMARK31'),(32,'PAINT','PART_C32','Bottom paint no. 32',6,263.13,6,6,b'1','REMARK32'),(33,'SHACK','PART_C33','Shackle no. 33',7,324.49,7,7,b'1','REMARK33'),(34,'PUMP','PART_C34','Bilge pump no. 34',8,146.51,8,8,b'1','REMARK34'),(35,'LAMP','PART_C35','Navigation lamp no. 35',9,255.57,9,9,b'1','REMARK35'),(36,'SEAL','PART_C36','Shaft seal no. 36',1,142.27,1,1,b'1','REMARK36'),(37,'BOLT','PART_C37','Keel bolt no. 37',2,112.41,2,2,b'1','REMARK37'),(38,'FILT','PART_C38','Oil filter no. 38',3,362.15,3,3,b'1','REMARK38'),(39,'BATT','PART_C39','Battery no. 39',4,129.33,4,4,b'1','REMARK39'),(40,'ANODE','PART_C40','Zinc anode no. 40',5,38.57,5,5,b'1','REMARK40'),(41,'ROPE','PART_C41','Mooring rope no. 41',6,134.59,6,6,b'1','REMARK41'),(42,'PAINT','PART_C42','Bottom paint no. 42',7,296.91,7,7,b'1','REMARK42'),(43,'SHACK','PART_C43','Shackle no. 43',8,85.32,8,8,b'1','REMARK43'),(44,'PUMP','PART_C44','Bilge pump no. 44',9,297.54,9,9,b'1','REMARK44'),(45,'LAMP','PART_C45','Navigation lamp no. 45',1,218.95,1,1,b'1','REMARK45'),(46,'SEAL','PART_C46','Shaft seal no. 46',2,272.41,2,2,b'1','REMARK46'),(47,'BOLT','PART_C47','Keel bolt no. 47',3,71.74,3,3,b'1','REMARK47'),(48,'FILT','PART_C48','Oil filter no. 48',4,43.22,4,4,b'1','REMARK48'),(49,'BATT','PART_C49','Battery no. 49',5,58.03,5,5,b'1','REMARK49'),(50,'ANODE','PART_C50','Zinc anode no. 50',6,140.78,6,6,b'1','REMARK50'),(51,'ROPE','PART_C51','Mooring rope no. 51',7,172.87,7,7,b'1','REMARK51'),(52,'PAINT','PART_C52','Bottom paint no. 52',8,4.77,8,8,b'1','REMARK52'),(53,'SHACK','PART_C53','Shackle no. 53',9,201.53,9,9,b'1','REMARK53'),(54,'PUMP','PART_C54','Bilge pump no. 54',1,161.94,1,1,b'1','REMARK54'),(55,'LAMP','PART_C55','Navigation lamp no. 55',2,129.28,2,2,b'1','REMARK55'),(56,'SEAL','PART_C56','Shaft seal no. 56',3,215.32,3,3,b'1','REMARK56'),(57,'BOLT','PART_C57','Keel bolt no. 57',4,380.97,4,4,b'1','REMARK57'),(58,'FILT','PART_C58','Oil filter no. 58',5,82.67,5,5,b'1','REMARK58'),(59,'BATT','PART_C59','Battery no. 59',6,352.31,6,6,b'1','REMARK59'),(60,'ANODE','PART_C60','Zinc anode no. 60',7,129.04,7,7,b'1','REMARK60'),(61,'ROPE','PART_C61','Mooring rope no. 61',8,301.90,8,8,b'1','REMARK61'),(62,'PAINT','PART_C62','Bottom paint no. 62',9,44.24,9,9,b'1','REMARK62'),(63,'SHACK','PART_C63','Shackle no. 63',1,395.01,1,1,b'1','REMARK63'),(64,'PUMP','PART_C64','Bilge pump no. 64',2,172.61,2,2,b'1','REMARK64'),(65,'LAMP','PART_C65','Navigation lamp no. 65',3,385.10,3,3,b'1','REMARK65'),(66,'SEAL','PART_C66','Shaft seal no. 66',4,88.63,4,4,b'1','REMARK66'),(67,'BOLT','PART_C67','Keel bolt no. 67',5,163.88,5,5,b'1','REMARK67'),(68,'FILT','PART_C68','Oil filter no. 68',6,282.71,6,6,b'1','REMARK68'),(69,'BATT','PART_C69','Battery no. 69',7,71.95,7,7,b'1','REMARK69'),(70,'ANODE','PART_C70','Zinc anode no. 70',8,110.07,8,8,b'1','REMARK70'),(71,'ROPE','PART_C71','Mooring rope no. 71',9,271.21,9,9,b'1','REMARK71'),(72,'PAINT','PART_C72','Bottom paint no. 72',1,379.13,1,1,b'1','REMARK72'),(73,'SHACK','PART_C73','Shackle no. 73',2,129.57,2,2,b'1','REMARK73'),(74,'PUMP','PART_C74','Bilge pump no. 74',3,74.19,3,3,b'1','REMARK74'),(75,'LAMP','PART_C75','Navigation lamp no. 75',4,143.52,4,4,b'1','REMARK75'),(76,'SEAL','PART_C76','Shaft seal no. 76',5,395.80,5,5,b'1','REMARK76'),(77,'BOLT','PART_C77','Keel bolt no. 77',6,60.10,6,6,b'1','REMARK77'),(78,'FILT','PART_C78','Oil filter no. 78',7,254.26,7,7,b'1','REMARK78'),(79,'BATT','PART_C79','Battery no. 79',8,151.87,8,8,b'1','REMARK79'),(80,'ANODE','PART_C80','Zinc anode no. 80',9,257.91,9,9,b'1','REMARK80'),(81,'ROPE','PART_C81','Mooring rope no. 81',1,85.70,1,1,b'1','REMARK81'),(82,'PAINT','PART_C82','Bottom paint no. 82',2,246.89,2,2,b'1','REMARK82'),(83,'SHACK','PART_C83','Shackle no. 83',3,355.16,3,3,b'1','REMARK83'),(84,'PUMP','PART_C84','Bilge pump no. 84',4,342.69,4,4,b'1','REMARK84'),(85,'LAMP','PART_C85','Navigation lamp no. 85',5,251.82,5,5,b'1','REMARK85'),(86,'SEAL','PART_C86','Shaft seal no. 86',6,202.44,6,6,b'1','REMARK86'),(87,'BOLT','PART_C87','Keel bolt no. 87',7,227.53,7,7,b'1','REMARK87'),(88,'FILT','PART_C88','Oil filter no. 88',8,46.54,8,8,b'1','REMARK88'),(89,'BATT','PART_C89','Battery no. 89',9,335.16,9,9,b'1','REMARK89'),(90,'ANODE','PART_C90','Zinc anode no. 90',1,276.25,1,1,b'1','REMARK90'),(91,'ROPE','PART_C91','Mooring rope no. 91',2,181.83,2,2,b'1','REMARK91'),(92,'PAINT','PART_C92','Bottom paint no. 92',3,266.52,3,3,b'1','REMARK92'),(93,'SHACK','PART_C93','Shackle no. 93',4,168.33,4,4,b'1','REMARK93'),(94,'PUMP','PART_C94','Bilge pump no. 94',5,154.47,5,5,b'1','REMARK94'),(95,'LAMP','PART_C95','Navigation lamp no. 95',6,92.78,6,6,b'1','REMARK95'),(96,'SEAL','PART_C96','Shaft seal no. 96',7,240.67,7,7,b'1','REMARK96'),(97,'BOLT','PART_C97','Keel bolt no. 97',8,229.53,8,8,b'1','REMARK97'),(98,'FILT','PART_C98','Oil filter no. 98',9,206.58,9,9,b'1','REMARK98'),(99,'BATT','PART_C99','Battery no. 99',1,13.85,1,1,b'1','REMARK99'),(100,'ANODE','PART_C100','Zinc anode no. 100',2,251.31,2,2,b'1','REMARK100'),(101,'ROPE','PART_C101','Mooring rope no. 101',3,179.28,3,3,b'1','REMARK101'),(102,'PAINT','PART_C102','Bottom paint no. 102',4,237.75,4,4,b'1','REMARK102'),(103,'SHACK','PART_C103','Shackle no. 103',5,238.23,5,5,b'1','REMARK103'),(104,'PUMP','PART_C104','Bilge pump no. 104',6,372.71,6,6,b'1','REMARK104'),(105,'LAMP','PART_C105','Navigation lamp no. 105',7,61.62,7,7,b'1','REMARK105'),(106,'SEAL','PART_C106','Shaft seal no. 106',8,188.00,8,8,b'1','REMARK106'),(107,'BOLT','PART_C107','Keel bolt no. 107',9,397.16,9,9,b'1','REMARK107'),(108,'FILT','PART_C108','Oil filter no. 108',1,295.46,1,1,b'1','REMARK108'),(109,'BATT','PART_C109','Battery no. 109',2,125.87,2,2,b'1','REMARK109'),(110,'ANODE','PART_C110','Zinc anode no. 110',3,294.96,3,3,b'1','REMARK110'),(111,'ROPE','PART_C111','Mooring rope no. 111',4,395.78,4,4,b'1','REMARK111'),(112,'PAINT','PART_C112','Bottom paint no. 112',5,161.44,5,5,b'1','REMARK112'),(113,'SHACK','PART_C113','Shackle no. 113',6,347.12,6,6,b'1','REMARK113'),(114,'PUMP','PART_C114','Bilge pump no. 114',7,51.55,7,7,b'1','REMARK114'),(115,'LAMP','PART_C115','Navigation lamp no. 115',8,396.04,8,8,b'1','REMARK115'),(116,'SEAL','PART_C116','Shaft seal no. 116',9,196.94,9,9,b'1','REMARK116'),(117,'BOLT','PART_C117','Keel bolt no. 117',1,94.41,1,1,b'1','REMARK117'),(118,'FILT','PART_C118','Oil filter no. 118',2,336.25,2,2,b'1','REMARK118'),(119,'BATT','PART_C119','Battery no. 119',3,260.04,3,3,b'1','REMARK119'),(120,'ANODE','PART_C120','Zinc anode no. 120',4,375.14,4,4,b'1','REMARK120'),(121,'ROPE','PART_C121','Mooring rope no. 121',5,331.88,5,5,b'1','REMARK121'),(122,'PAINT','PART_C122','Bottom paint no. 122',6,319.27,6,6,b'1','REMARK122'),(123,'SHACK','PART_C123','Shackle no. 123',7,205.13,7,7,b'1','REMARK123'),(124,'PUMP','PART_C124','Bilge pump no. 124',8,397.48,8,8,b'1','REMARK124'),(125,'LAMP','PART_C125','Navigation lamp no. 125',9,26.86,9,9,b'1','REMARK125'),(126,'SEAL','PART_C126','Shaft seal no. 126',1,348.17,1,1,b'1','REMARK126'),(127,'BOLT','PART_C127','Keel bolt no. 127',2,284.94,2,2,b'1','REMARK127'),(128,'FILT','PART_C128','Oil filter no. 128',3,101.03,3,3,b'1','REMARK128'),(129,'BATT','PART_C129','Battery no. 129',4,323.06,4,4,b'1','REMARK129'),(130,'ANODE','PART_C130','Zinc anode no. 130',5,182.17,5,5,b'1','REMARK130'),(131,'ROPE','PART_C131','Mooring rope no. 131',6,214.99,6,6,b'1','REMARK131'),(132,'PAINT','PART_C132','Bottom paint no. 132',7,346.35,7,7,b'1','REMARK132'),(133,'SHACK','PART_C133','Shackle no. 133',8,79.20,8,8,b'1','REMARK133'),(134,'PUMP','PART_C134','Bilge pump no. 134',9,112.57,9,9,b'1','REMARK134'),(135,'LAMP','PART_C135','Navigation lamp no. 135',1,257.84,1,1,b'1','REMARK135'),(136,'SEAL','PART_C136','Shaft seal no. 136',2,30.35,2,2,b'1','REMARK136'),(137,'BOLT','PART_C137','Keel bolt no. 137',3,222.44,3,3,b'1','REMARK137'),(138,'FILT','PART_C138','Oil filter no. 138',4,315.06,4,4,b'1','REMARK138'),(139,'BATT','PART_C139','Battery no. 139',5,196.81,5,5,b'1','REMARK139'),(140,'ANODE','PART_C140','Zinc anode no. 140',6,97.48,6,6,b'1','REMARK140'),(141,'ROPE','PART_C141','Mooring rope no. 141',7,320.19,7,7,b'1','REMARK141'),(142,'PAINT','PART_C142','Bottom paint no. 142',8,342.16,8,8,b'1','REMARK142'),(143,'SHACK','PART_C143','Shackle no. 143',9,308.55,9,9,b'1','REMARK143'),(144,'PUMP','PART_C144','Bilge pump no. 144',1,220.16,1,1,b'1','REMARK144'),(145,'LAMP','PART_C145','Navigation lamp no. 145',2,362.37,2,2,b'1','REMARK145'),(146,'SEAL','PART_C146','Shaft seal no. 146',3,318.91,3,3,b'1','REMARK146'),(147,'BOLT','PART_C147','Keel bolt no. 147',4,61.56,4,4,b'1','REMARK147'),(148,'FILT','PART_C148','Oil filter no. 148',5,146.97,5,5,b'1','REMARK148'),(149,'BATT','PART_C149','Battery no. 149',6,41.04,6,6,b'1','REMARK149'),(150,'ANODE','PART_C150','Zinc anode no. 150',7,15.68,7,7,b'1','REMARK150'),(151,'ROPE','PART_C151','Mooring rope no. 151',8,138.97,8,8,b'1','REMARK151'),(152,'PAINT','PART_C152','Bottom paint no. 152',9,346.08,9,9,b'1','REMARK152'),(153,'SHACK','PART_C153','Shackle no. 153',1,333.72,1,1,b'1','REMARK153'),(154,'PUMP','PART_C154','Bilge pump no. 154',2,47.84,2,2,b'1','REMARK154'),(155,'LAMP','PART_C155','Navigation lamp no. 155',3,73.50,3,3,b'1','REMARK155'),(156,'SEAL','PART_C156','Shaft seal no. 156',4,156.06,4,4,b'1','REMARK156'),(157,'BOLT','PART_C157','Keel bolt no. 157',5,339.83,5,5,b'1','REMARK157'),(158,'FILT','PART_C158','Oil filter no. 158',6,247.21,6,6,b'1','REMARK158'),(159,'BATT','PART_C159','Battery no. 159',7,360.82,7,7,b'1','REMARK159'),(160,'ANODE','PART_C160','Zinc anode no. 160',8,29.68,8,8,b'1','REMARK160'),(161,'ROPE','PART_C161','Mooring rope no. 161',9,395.16,9,9,b'1','REMARK161'),(162,'PAINT','PART_C162','Bottom paint no. 162',1,83.49,1,1,b'1','REMARK162'),(163,'SHACK','PART_C163','Shackle no. 163',2,252.05,2,2,b'1','REMARK163'),(164,'PUMP','PART_C164','Bilge pump no. 164',3,350.75,3,3,b'1','REMARK164'),(165,'LAMP','PART_C165','Navigation lamp no. 165',4,291.33,4,4,b'1','REMARK165'),(166,'SEAL','PART_C166','Shaft seal no. 166',5,79.63,5,5,b'1','REMARK166'),(167,'BOLT','PART_C167','Keel bolt no. 167',6,267.69,6,6,b'1','REMARK167'),(168,'FILT','PART_C168','Oil filter no. 168',7,172.88,7,7,b'1','REMARK168'),(169,'BATT','PART_C169','Battery no. 169',8,7.13,8,8,b'1','REMARK169'),(170,'ANODE','PART_C170','Zinc anode no. 170',9,136.49,9,9,b'1','REMARK170'),(171,'ROPE','PART_C171','Mooring rope no. 171',1,126.82,1,1,b'1','REMARK171'),(172,'PAINT','PART_C172','Bottom paint no. 172',2,252.25,2,2,b'1','REMARK172'),(173,'SHACK','PART_C173','Shackle no. 173',3,112.13,3,3,b'1','REMARK173'),(174,'PUMP','PART_C174','Bilge pump no. 174',4,241.63,4,4,b'1','REMARK174'),(175,'LAMP','PART_C175','Navigation lamp no. 175',5,278.25,5,5,b'1','REMARK175'),(176,'SEAL','PART_C176','Shaft seal no. 176',6,73.09,6,6,b'1','REMARK176'),(177,'BOLT','PART_C177','Keel bolt no. 177',7,52.08,7,7,b'1','REMARK177'),(178,'FILT','PART_C178','Oil filter no. 178',8,277.81,8,8,b'1','REMARK178'),(179,'BATT','PART_C179','Battery no. 179',9,187.12,9,9,b'1','REMARK179'),(180,'ANODE','PART_C180','Zinc anode no. 180',1,52.51,1,1,b'1','REMARK180');

/*!40000 ALTER TABLE `part` ENABLE KEYS */;
UNLOCK TABLES;

--
-- Table structure for table `supplier`
--

DROP TABLE IF EXISTS `supplier`;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!50503 SET character_set_client = utf8mb4 */;
CREATE TABLE `supplier` (
  `supplier_id` smallint unsigned NOT NULL AUTO_INCREMENT,
  `supplier_name` varchar(80) NOT NULL,
  `country` char(2) NOT NULL DEFAULT 'KB',
  `closed_on` date DEFAULT NULL,
  PRIMARY KEY (`supplier_id`)
) ENGINE=InnoDB AUTO_INCREMENT=10 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_0900_ai_ci;
/*!40101 SET character_set_client = @saved_cs_client */;

--
-- Dumping data for table `supplier`
--

LOCK TABLES `supplier` WRITE;
/*!40000 ALTER TABLE `supplier` DISABLE KEYS */;

INSERT INTO `supplier` VALUES (1,'SUPPLI1','CO','2024-02-08');

INSERT INTO `supplier` VALUES (2,'SUPPLI2','CO','2025-03-15');

INSERT INTO `supplier` VALUES (3,'SUPPLI3','CO','2023-04-22');

INSERT INTO `supplier` VALUES (4,'SUPPLI4','CO','2024-05-01');

INSERT INTO `supplier` VALUES (5,'SUPPLI5','CO','2025-06-08');

INSERT INTO `supplier` VALUES (6,'SUPPLI6','CO','2023-07-15');

INSERT INTO `supplier` VALUES (7,'SUPPLI7','CO','2024-08-22');

INSERT INTO `supplier` VALUES (8,'SUPPLI8','CO','2025-09-01');

INSERT INTO `supplier` VALUES (9,'SUPPLI9','CO','2023-10-08');

/*!40000 ALTER TABLE `supplier` ENABLE KEYS */;
UNLOCK TABLES;

--
-- Table structure for table `part_supplier`
--

DROP TABLE IF EXISTS `part_supplier`;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!50503 SET character_set_client = utf8mb4 */;
CREATE TABLE `part_supplier` (
  `part_id` int unsigned NOT NULL,
  `supplier_id` smallint unsigned NOT NULL,
  `preference` tinyint NOT NULL DEFAULT '0',
  `days` smallint DEFAULT NULL,
  PRIMARY KEY (`part_id`,`supplier_id`),
  CONSTRAINT `fk_part_supplier_part_id` FOREIGN KEY (`part_id`) REFERENCES `part` (`part_id`),
  CONSTRAINT `fk_part_supplier_supplier_id` FOREIGN KEY (`supplier_id`) REFERENCES `supplier` (`supplier_id`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_0900_ai_ci;
/*!40101 SET character_set_client = @saved_cs_client */;

--
-- Table structure for table `supplier_price`
--

DROP TABLE IF EXISTS `supplier_price`;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!50503 SET character_set_client = utf8mb4 */;
CREATE TABLE `supplier_price` (
  `part_code` varchar(24) CHARACTER SET latin1 COLLATE latin1_swedish_ci NOT NULL,
  `supplier_id` smallint unsigned NOT NULL DEFAULT '0',
  `price` decimal(10,2) NOT NULL,
  PRIMARY KEY (`part_code`,`supplier_id`)
) ENGINE=MyISAM DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_0900_ai_ci;
/*!40101 SET character_set_client = @saved_cs_client */;

--
-- Table structure for table `purchase`
--

DROP TABLE IF EXISTS `purchase`;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!50503 SET character_set_client = utf8mb4 */;
CREATE TABLE `purchase` (
  `part_id` int unsigned NOT NULL,
  `ordered_on` date NOT NULL,
  `supplier_id` smallint unsigned NOT NULL,
  `quantity` mediumint unsigned NOT NULL,
  `received_on` date DEFAULT NULL,
  PRIMARY KEY (`part_id`,`ordered_on`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_0900_ai_ci;
/*!40101 SET character_set_client = @saved_cs_client */;

--
-- Table structure for table `part_use`
--

DROP TABLE IF EXISTS `part_use`;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!50503 SET character_set_client = utf8mb4 */;
CREATE TABLE `part_use` (
  `use_id` int unsigned NOT NULL AUTO_INCREMENT,
  `order_id` int unsigned NOT NULL,
  `part_id` int unsigned NOT NULL,
  `quantity` decimal(8,2) NOT NULL,
  `booked_at` timestamp NOT NULL DEFAULT CURRENT_TIMESTAMP,
  PRIMARY KEY (`use_id`),
  KEY `ix_part_use_order_id` (`order_id`)
) ENGINE=InnoDB AUTO_INCREMENT=2 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_0900_ai_ci;
/*!40101 SET character_set_client = @saved_cs_client */;

--
-- Table structure for table `invoice`
--

DROP TABLE IF EXISTS `invoice`;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!50503 SET character_set_client = utf8mb4 */;
CREATE TABLE `invoice` (
  `invoice_no` int unsigned NOT NULL AUTO_INCREMENT,
  `customer_id` int unsigned NOT NULL,
  `order_id` int unsigned DEFAULT NULL,
  `issued_on` date NOT NULL,
  `due_on` date NOT NULL DEFAULT '0000-00-00',
  `paid_on` date NOT NULL DEFAULT '0000-00-00',
  `amount` decimal(12,2) NOT NULL,
  `paid` decimal(12,2) NOT NULL DEFAULT '0.00',
  `is_paid` tinyint(1) NOT NULL DEFAULT '0',
  `is_disputed` tinyint(1) NOT NULL DEFAULT '0',
  `pdf` longblob,
  PRIMARY KEY (`invoice_no`),
  CONSTRAINT `fk_invoice_customer_id` FOREIGN KEY (`customer_id`) REFERENCES `customer` (`customer_id`)
) ENGINE=InnoDB AUTO_INCREMENT=2 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_0900_ai_ci;
/*!40101 SET character_set_client = @saved_cs_client */;

--
-- Table structure for table `holiday`
--

DROP TABLE IF EXISTS `holiday`;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!50503 SET character_set_client = utf8mb4 */;
CREATE TABLE `holiday` (
  `holiday_date` date NOT NULL,
  `holiday_name` varchar(60) NOT NULL,
  PRIMARY KEY (`holiday_date`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_0900_ai_ci;
/*!40101 SET character_set_client = @saved_cs_client */;

--
-- Dumping data for table `holiday`
--

LOCK TABLES `holiday` WRITE;
/*!40000 ALTER TABLE `holiday` DISABLE KEYS */;

INSERT INTO `holiday` VALUES ('2024-02-08','HOLIDA1');

INSERT INTO `holiday` VALUES ('2025-03-15','HOLIDA2');

INSERT INTO `holiday` VALUES ('2023-04-22','HOLIDA3');

INSERT INTO `holiday` VALUES ('2024-05-01','HOLIDA4');

INSERT INTO `holiday` VALUES ('2025-06-08','HOLIDA5');

INSERT INTO `holiday` VALUES ('2023-07-15','HOLIDA6');

INSERT INTO `holiday` VALUES ('2024-08-22','HOLIDA7');

INSERT INTO `holiday` VALUES ('2025-09-01','HOLIDA8');

INSERT INTO `holiday` VALUES ('2023-10-08','HOLIDA9');

INSERT INTO `holiday` VALUES ('2024-11-15','HOLIDA10');

INSERT INTO `holiday` VALUES ('2025-12-22','HOLIDA11');

INSERT INTO `holiday` VALUES ('2023-01-01','HOLIDA12');

/*!40000 ALTER TABLE `holiday` ENABLE KEYS */;
UNLOCK TABLES;

--
-- Table structure for table `notice`
--

DROP TABLE IF EXISTS `notice`;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!50503 SET character_set_client = utf8mb4 */;
CREATE TABLE `notice` (
  `notice_id` int NOT NULL AUTO_INCREMENT,
  `notice_text` tinytext NOT NULL,
  `created_at` datetime NOT NULL,
  PRIMARY KEY (`notice_id`)
) ENGINE=MyISAM AUTO_INCREMENT=2 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_0900_ai_ci;
/*!40101 SET character_set_client = @saved_cs_client */;

--
-- Table structure for table `setting`
--

DROP TABLE IF EXISTS `setting`;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!50503 SET character_set_client = utf8mb4 */;
CREATE TABLE `setting` (
  `name` varchar(40) NOT NULL,
  `value` varchar(200) DEFAULT NULL,
  PRIMARY KEY (`name`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_0900_ai_ci;
/*!40101 SET character_set_client = @saved_cs_client */;

--
-- Dumping data for table `setting`
--

LOCK TABLES `setting` WRITE;
/*!40000 ALTER TABLE `setting` DISABLE KEYS */;

INSERT INTO `setting` VALUES ('Dag Ida','VALUE1');

INSERT INTO `setting` VALUES ('Lund Lund','VALUE2');

INSERT INTO `setting` VALUES ('Jory Gunn','VALUE3');

INSERT INTO `setting` VALUES ('Aske Corin','VALUE4');

INSERT INTO `setting` VALUES ('Gunn Lund','VALUE5');

INSERT INTO `setting` VALUES ('Jory Nils','VALUE6');

/*!40000 ALTER TABLE `setting` ENABLE KEYS */;
UNLOCK TABLES;

--
-- Table structure for table `error_log`
--

DROP TABLE IF EXISTS `error_log`;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!50503 SET character_set_client = utf8mb4 */;
CREATE TABLE `error_log` (
  `log_id` bigint NOT NULL AUTO_INCREMENT,
  `routine` varchar(64) DEFAULT NULL,
  `sql_state` char(5) DEFAULT NULL,
  `message` text,
  `logged_at` timestamp(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  PRIMARY KEY (`log_id`)
) ENGINE=MyISAM AUTO_INCREMENT=2 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_0900_ai_ci;
/*!40101 SET character_set_client = @saved_cs_client */;

--
-- Table structure for table `audit_trail`
--

DROP TABLE IF EXISTS `audit_trail`;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!50503 SET character_set_client = utf8mb4 */;
CREATE TABLE `audit_trail` (
  `audit_id` bigint unsigned NOT NULL AUTO_INCREMENT,
  `table_name` varchar(64) NOT NULL,
  `row_key` varchar(64) NOT NULL,
  `action` enum('I','U','D') NOT NULL,
  `before_image` json,
  `after_image` json,
  `user_name` varchar(93) NOT NULL,
  `at` datetime(6) NOT NULL,
  PRIMARY KEY (`audit_id`)
) ENGINE=InnoDB AUTO_INCREMENT=2 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_0900_ai_ci ROW_FORMAT=COMPRESSED KEY_BLOCK_SIZE=8;
/*!40101 SET character_set_client = @saved_cs_client */;

CREATE TABLE `notice_2018` (`id` int NOT NULL, `txt` varchar(200) DEFAULT NULL, PRIMARY KEY (`id`)) ENGINE=MyISAM DEFAULT CHARSET=latin1;

CREATE TABLE `old_notice` (`id` int NOT NULL, `txt` varchar(200) DEFAULT NULL, PRIMARY KEY (`id`)) ENGINE=MyISAM DEFAULT CHARSET=latin1;

CREATE TABLE `old_price` (`id` int NOT NULL, `txt` varchar(200) DEFAULT NULL, PRIMARY KEY (`id`)) ENGINE=MyISAM DEFAULT CHARSET=latin1;

CREATE TABLE `debtor` (`customer_id` int unsigned NOT NULL, `since` date NOT NULL, PRIMARY KEY (`customer_id`)) ENGINE=InnoDB
  AS SELECT customer_id, MIN(due_on) AS since FROM invoice WHERE is_paid = 0 GROUP BY customer_id;

/*!50003 SET @saved_cs_client = @@character_set_client */ ;
DELIMITER ;;
/*!50003 CREATE*/ /*!50017 DEFINER=`yard`@`%`*/ /*!50003 TRIGGER `customer_insert` AFTER INSERT ON `customer` FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('customer', NEW.customer_id, 'I', NULL, JSON_OBJECT('name', NEW.name, 'town', NEW.town, 'phone', NEW.phone), CURRENT_USER(), NOW(6));
END */;;
/*!50003 CREATE*/ /*!50017 DEFINER=`yard`@`%`*/ /*!50003 TRIGGER `customer_update` AFTER UPDATE ON `customer` FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('customer', NEW.customer_id, 'U', JSON_OBJECT('name', OLD.name, 'town', OLD.town, 'phone', OLD.phone), JSON_OBJECT('name', NEW.name, 'town', NEW.town, 'phone', NEW.phone), CURRENT_USER(), NOW(6));
END */;;
/*!50003 CREATE*/ /*!50017 DEFINER=`yard`@`%`*/ /*!50003 TRIGGER `customer_delete` AFTER DELETE ON `customer` FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('customer', OLD.customer_id, 'D', JSON_OBJECT('name', OLD.name, 'town', OLD.town, 'phone', OLD.phone), NULL, CURRENT_USER(), NOW(6));
END */;;
/*!50003 CREATE*/ /*!50017 DEFINER=`yard`@`%`*/ /*!50003 TRIGGER `boat_insert` AFTER INSERT ON `boat` FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('boat', NEW.boat_id, 'I', NULL, JSON_OBJECT('customer_id', NEW.customer_id, 'boat_name', NEW.boat_name, 'registration', NEW.registration), CURRENT_USER(), NOW(6));
END */;;
/*!50003 CREATE*/ /*!50017 DEFINER=`yard`@`%`*/ /*!50003 TRIGGER `boat_update` AFTER UPDATE ON `boat` FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('boat', NEW.boat_id, 'U', JSON_OBJECT('customer_id', OLD.customer_id, 'boat_name', OLD.boat_name, 'registration', OLD.registration), JSON_OBJECT('customer_id', NEW.customer_id, 'boat_name', NEW.boat_name, 'registration', NEW.registration), CURRENT_USER(), NOW(6));
END */;;
/*!50003 CREATE*/ /*!50017 DEFINER=`yard`@`%`*/ /*!50003 TRIGGER `boat_delete` AFTER DELETE ON `boat` FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('boat', OLD.boat_id, 'D', JSON_OBJECT('customer_id', OLD.customer_id, 'boat_name', OLD.boat_name, 'registration', OLD.registration), NULL, CURRENT_USER(), NOW(6));
END */;;
/*!50003 CREATE*/ /*!50017 DEFINER=`yard`@`%`*/ /*!50003 TRIGGER `lay_up_insert` AFTER INSERT ON `lay_up` FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('lay_up', NEW.lay_up_id, 'I', NULL, JSON_OBJECT('boat_id', NEW.boat_id, 'berth_id', NEW.berth_id, 'lifted_at', NEW.lifted_at), CURRENT_USER(), NOW(6));
END */;;
/*!50003 CREATE*/ /*!50017 DEFINER=`yard`@`%`*/ /*!50003 TRIGGER `lay_up_update` AFTER UPDATE ON `lay_up` FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('lay_up', NEW.lay_up_id, 'U', JSON_OBJECT('boat_id', OLD.boat_id, 'berth_id', OLD.berth_id, 'lifted_at', OLD.lifted_at), JSON_OBJECT('boat_id', NEW.boat_id, 'berth_id', NEW.berth_id, 'lifted_at', NEW.lifted_at), CURRENT_USER(), NOW(6));
END */;;
/*!50003 CREATE*/ /*!50017 DEFINER=`yard`@`%`*/ /*!50003 TRIGGER `lay_up_delete` AFTER DELETE ON `lay_up` FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('lay_up', OLD.lay_up_id, 'D', JSON_OBJECT('boat_id', OLD.boat_id, 'berth_id', OLD.berth_id, 'lifted_at', OLD.lifted_at), NULL, CURRENT_USER(), NOW(6));
END */;;
/*!50003 CREATE*/ /*!50017 DEFINER=`yard`@`%`*/ /*!50003 TRIGGER `lift_insert` AFTER INSERT ON `lift` FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('lift', NEW.lift_id, 'I', NULL, JSON_OBJECT('hoist_id', NEW.hoist_id, 'boat_id', NEW.boat_id, 'planned_at', NEW.planned_at), CURRENT_USER(), NOW(6));
END */;;
/*!50003 CREATE*/ /*!50017 DEFINER=`yard`@`%`*/ /*!50003 TRIGGER `lift_update` AFTER UPDATE ON `lift` FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('lift', NEW.lift_id, 'U', JSON_OBJECT('hoist_id', OLD.hoist_id, 'boat_id', OLD.boat_id, 'planned_at', OLD.planned_at), JSON_OBJECT('hoist_id', NEW.hoist_id, 'boat_id', NEW.boat_id, 'planned_at', NEW.planned_at), CURRENT_USER(), NOW(6));
END */;;
/*!50003 CREATE*/ /*!50017 DEFINER=`yard`@`%`*/ /*!50003 TRIGGER `lift_delete` AFTER DELETE ON `lift` FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('lift', OLD.lift_id, 'D', JSON_OBJECT('hoist_id', OLD.hoist_id, 'boat_id', OLD.boat_id, 'planned_at', OLD.planned_at), NULL, CURRENT_USER(), NOW(6));
END */;;
/*!50003 CREATE*/ /*!50017 DEFINER=`yard`@`%`*/ /*!50003 TRIGGER `work_order_insert` AFTER INSERT ON `work_order` FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('work_order', NEW.order_id, 'I', NULL, JSON_OBJECT('boat_id', NEW.boat_id, 'customer_id', NEW.customer_id, 'kind', NEW.kind), CURRENT_USER(), NOW(6));
END */;;
/*!50003 CREATE*/ /*!50017 DEFINER=`yard`@`%`*/ /*!50003 TRIGGER `work_order_update` AFTER UPDATE ON `work_order` FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('work_order', NEW.order_id, 'U', JSON_OBJECT('boat_id', OLD.boat_id, 'customer_id', OLD.customer_id, 'kind', OLD.kind), JSON_OBJECT('boat_id', NEW.boat_id, 'customer_id', NEW.customer_id, 'kind', NEW.kind), CURRENT_USER(), NOW(6));
END */;;
/*!50003 CREATE*/ /*!50017 DEFINER=`yard`@`%`*/ /*!50003 TRIGGER `work_order_delete` AFTER DELETE ON `work_order` FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('work_order', OLD.order_id, 'D', JSON_OBJECT('boat_id', OLD.boat_id, 'customer_id', OLD.customer_id, 'kind', OLD.kind), NULL, CURRENT_USER(), NOW(6));
END */;;
/*!50003 CREATE*/ /*!50017 DEFINER=`yard`@`%`*/ /*!50003 TRIGGER `order_line_insert` AFTER INSERT ON `order_line` FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('order_line', NEW.order_id, 'I', NULL, JSON_OBJECT('line_no', NEW.line_no, 'task_code', NEW.task_code, 'hours_planned', NEW.hours_planned), CURRENT_USER(), NOW(6));
END */;;
/*!50003 CREATE*/ /*!50017 DEFINER=`yard`@`%`*/ /*!50003 TRIGGER `order_line_update` AFTER UPDATE ON `order_line` FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('order_line', NEW.order_id, 'U', JSON_OBJECT('line_no', OLD.line_no, 'task_code', OLD.task_code, 'hours_planned', OLD.hours_planned), JSON_OBJECT('line_no', NEW.line_no, 'task_code', NEW.task_code, 'hours_planned', NEW.hours_planned), CURRENT_USER(), NOW(6));
END */;;
/*!50003 CREATE*/ /*!50017 DEFINER=`yard`@`%`*/ /*!50003 TRIGGER `order_line_delete` AFTER DELETE ON `order_line` FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('order_line', OLD.order_id, 'D', JSON_OBJECT('line_no', OLD.line_no, 'task_code', OLD.task_code, 'hours_planned', OLD.hours_planned), NULL, CURRENT_USER(), NOW(6));
END */;;
/*!50003 CREATE*/ /*!50017 DEFINER=`yard`@`%`*/ /*!50003 TRIGGER `time_sheet_insert` AFTER INSERT ON `time_sheet` FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('time_sheet', NEW.sheet_id, 'I', NULL, JSON_OBJECT('order_id', NEW.order_id, 'worker_id', NEW.worker_id, 'worked_on', NEW.worked_on), CURRENT_USER(), NOW(6));
END */;;
/*!50003 CREATE*/ /*!50017 DEFINER=`yard`@`%`*/ /*!50003 TRIGGER `time_sheet_update` AFTER UPDATE ON `time_sheet` FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('time_sheet', NEW.sheet_id, 'U', JSON_OBJECT('order_id', OLD.order_id, 'worker_id', OLD.worker_id, 'worked_on', OLD.worked_on), JSON_OBJECT('order_id', NEW.order_id, 'worker_id', NEW.worker_id, 'worked_on', NEW.worked_on), CURRENT_USER(), NOW(6));
END */;;
/*!50003 CREATE*/ /*!50017 DEFINER=`yard`@`%`*/ /*!50003 TRIGGER `time_sheet_delete` AFTER DELETE ON `time_sheet` FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('time_sheet', OLD.sheet_id, 'D', JSON_OBJECT('order_id', OLD.order_id, 'worker_id', OLD.worker_id, 'worked_on', OLD.worked_on), NULL, CURRENT_USER(), NOW(6));
END */;;
/*!50003 CREATE*/ /*!50017 DEFINER=`yard`@`%`*/ /*!50003 TRIGGER `part_insert` AFTER INSERT ON `part` FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('part', NEW.part_id, 'I', NULL, JSON_OBJECT('part_group', NEW.part_group, 'part_code', NEW.part_code, 'part_name', NEW.part_name), CURRENT_USER(), NOW(6));
END */;;
/*!50003 CREATE*/ /*!50017 DEFINER=`yard`@`%`*/ /*!50003 TRIGGER `part_update` AFTER UPDATE ON `part` FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('part', NEW.part_id, 'U', JSON_OBJECT('part_group', OLD.part_group, 'part_code', OLD.part_code, 'part_name', OLD.part_name), JSON_OBJECT('part_group', NEW.part_group, 'part_code', NEW.part_code, 'part_name', NEW.part_name), CURRENT_USER(), NOW(6));
END */;;
/*!50003 CREATE*/ /*!50017 DEFINER=`yard`@`%`*/ /*!50003 TRIGGER `part_delete` AFTER DELETE ON `part` FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('part', OLD.part_id, 'D', JSON_OBJECT('part_group', OLD.part_group, 'part_code', OLD.part_code, 'part_name', OLD.part_name), NULL, CURRENT_USER(), NOW(6));
END */;;
/*!50003 CREATE*/ /*!50017 DEFINER=`yard`@`%`*/ /*!50003 TRIGGER `purchase_insert` AFTER INSERT ON `purchase` FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('purchase', NEW.part_id, 'I', NULL, JSON_OBJECT('ordered_on', NEW.ordered_on, 'supplier_id', NEW.supplier_id, 'quantity', NEW.quantity), CURRENT_USER(), NOW(6));
END */;;
/*!50003 CREATE*/ /*!50017 DEFINER=`yard`@`%`*/ /*!50003 TRIGGER `purchase_update` AFTER UPDATE ON `purchase` FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('purchase', NEW.part_id, 'U', JSON_OBJECT('ordered_on', OLD.ordered_on, 'supplier_id', OLD.supplier_id, 'quantity', OLD.quantity), JSON_OBJECT('ordered_on', NEW.ordered_on, 'supplier_id', NEW.supplier_id, 'quantity', NEW.quantity), CURRENT_USER(), NOW(6));
END */;;
/*!50003 CREATE*/ /*!50017 DEFINER=`yard`@`%`*/ /*!50003 TRIGGER `purchase_delete` AFTER DELETE ON `purchase` FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('purchase', OLD.part_id, 'D', JSON_OBJECT('ordered_on', OLD.ordered_on, 'supplier_id', OLD.supplier_id, 'quantity', OLD.quantity), NULL, CURRENT_USER(), NOW(6));
END */;;
/*!50003 CREATE*/ /*!50017 DEFINER=`yard`@`%`*/ /*!50003 TRIGGER `invoice_insert` AFTER INSERT ON `invoice` FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('invoice', NEW.invoice_no, 'I', NULL, JSON_OBJECT('customer_id', NEW.customer_id, 'order_id', NEW.order_id, 'issued_on', NEW.issued_on), CURRENT_USER(), NOW(6));
END */;;
/*!50003 CREATE*/ /*!50017 DEFINER=`yard`@`%`*/ /*!50003 TRIGGER `invoice_update` AFTER UPDATE ON `invoice` FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('invoice', NEW.invoice_no, 'U', JSON_OBJECT('customer_id', OLD.customer_id, 'order_id', OLD.order_id, 'issued_on', OLD.issued_on), JSON_OBJECT('customer_id', NEW.customer_id, 'order_id', NEW.order_id, 'issued_on', NEW.issued_on), CURRENT_USER(), NOW(6));
END */;;
/*!50003 CREATE*/ /*!50017 DEFINER=`yard`@`%`*/ /*!50003 TRIGGER `invoice_delete` AFTER DELETE ON `invoice` FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('invoice', OLD.invoice_no, 'D', JSON_OBJECT('customer_id', OLD.customer_id, 'order_id', OLD.order_id, 'issued_on', OLD.issued_on), NULL, CURRENT_USER(), NOW(6));
END */;;
/*!50003 CREATE*/ /*!50017 DEFINER=`yard`@`%`*/ /*!50003 TRIGGER `worker_insert` AFTER INSERT ON `worker` FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('worker', NEW.worker_id, 'I', NULL, JSON_OBJECT('worker_name', NEW.worker_name, 'trade', NEW.trade, 'week_hours', NEW.week_hours), CURRENT_USER(), NOW(6));
END */;;
/*!50003 CREATE*/ /*!50017 DEFINER=`yard`@`%`*/ /*!50003 TRIGGER `worker_update` AFTER UPDATE ON `worker` FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('worker', NEW.worker_id, 'U', JSON_OBJECT('worker_name', OLD.worker_name, 'trade', OLD.trade, 'week_hours', OLD.week_hours), JSON_OBJECT('worker_name', NEW.worker_name, 'trade', NEW.trade, 'week_hours', NEW.week_hours), CURRENT_USER(), NOW(6));
END */;;
/*!50003 CREATE*/ /*!50017 DEFINER=`yard`@`%`*/ /*!50003 TRIGGER `worker_delete` AFTER DELETE ON `worker` FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('worker', OLD.worker_id, 'D', JSON_OBJECT('worker_name', OLD.worker_name, 'trade', OLD.trade, 'week_hours', OLD.week_hours), NULL, CURRENT_USER(), NOW(6));
END */;;
/*!50003 CREATE*/ /*!50017 DEFINER=`yard`@`%`*/ /*!50003 TRIGGER `part_use_insert` AFTER INSERT ON `part_use` FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('part_use', NEW.use_id, 'I', NULL, JSON_OBJECT('order_id', NEW.order_id, 'part_id', NEW.part_id, 'quantity', NEW.quantity), CURRENT_USER(), NOW(6));
END */;;
/*!50003 CREATE*/ /*!50017 DEFINER=`yard`@`%`*/ /*!50003 TRIGGER `part_use_update` AFTER UPDATE ON `part_use` FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('part_use', NEW.use_id, 'U', JSON_OBJECT('order_id', OLD.order_id, 'part_id', OLD.part_id, 'quantity', OLD.quantity), JSON_OBJECT('order_id', NEW.order_id, 'part_id', NEW.part_id, 'quantity', NEW.quantity), CURRENT_USER(), NOW(6));
END */;;
/*!50003 CREATE*/ /*!50017 DEFINER=`yard`@`%`*/ /*!50003 TRIGGER `part_use_delete` AFTER DELETE ON `part_use` FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('part_use', OLD.use_id, 'D', JSON_OBJECT('order_id', OLD.order_id, 'part_id', OLD.part_id, 'quantity', OLD.quantity), NULL, CURRENT_USER(), NOW(6));
END */;;
CREATE TRIGGER part_use_stock BEFORE INSERT ON part_use FOR EACH ROW 
BEGIN
  DECLARE v_stock INT;
  SELECT stock INTO v_stock FROM part WHERE part_id = NEW.part_id;
  IF v_stock < NEW.quantity THEN
    SET NEW.quantity = v_stock;
  END IF;
  UPDATE part SET stock = stock - NEW.quantity WHERE part_id = NEW.part_id;
END;;
DELIMITER ;

/*!40103 SET TIME_ZONE=@OLD_TIME_ZONE */;
/*!40101 SET SQL_MODE=@OLD_SQL_MODE */;
/*!40014 SET FOREIGN_KEY_CHECKS=@OLD_FOREIGN_KEY_CHECKS */;
-- Dump completed
